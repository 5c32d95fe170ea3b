"""Two methods of pymatting by themselves: importing it whole compiles all others for a minute."""

import sys
from functools import cache
from importlib import import_module
from importlib.machinery import ModuleSpec
from importlib.util import find_spec, module_from_spec
from threading import Lock
from types import ModuleType
from typing import Any

PACKAGES = ("alpha", "foreground", "laplacian", "preconditioner", "solver", "util")
_importing = Lock()


def estimate_alpha_cf(*args: Any, **more: Any) -> Any:
    """Closed-form matting: as pymatting.estimate_alpha_cf."""
    return _part("alpha.estimate_alpha_cf").estimate_alpha_cf(*args, **more)


def estimate_foreground_ml(*args: Any, **more: Any) -> Any:
    """Fast multi-level foreground estimation: as pymatting.estimate_foreground_ml."""
    return _part("foreground.estimate_foreground_ml").estimate_foreground_ml(*args, **more)


def _part(name: str) -> ModuleType:
    with _importing:
        return _imported(name)


@cache
def _imported(name: str) -> ModuleType:
    if "pymatting" not in sys.modules:
        _add_packages()
    return import_module(f"pymatting.{name}")


def _add_packages() -> None:
    # Packages whose own code, which imports everything, is not run.
    found = find_spec("pymatting")
    if found is None or not found.submodule_search_locations:
        raise ModuleNotFoundError("pymatting is not installed.", name="pymatting")
    root = found.submodule_search_locations[0]
    for folder in ("", *PACKAGES):
        name = f"pymatting.{folder}" if folder else "pymatting"
        spec = ModuleSpec(name, None, is_package=True)
        spec.submodule_search_locations = [f"{root}/{folder}"]
        sys.modules[name] = module_from_spec(spec)
