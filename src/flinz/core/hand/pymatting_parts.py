"""Parts of pymatting by themselves: importing it whole compiles all others for a minute."""

import sys
from functools import cache
from importlib import import_module
from importlib.util import find_spec, module_from_spec
from threading import Lock
from types import ModuleType
from typing import Any

PACKAGES = ("foreground", "laplacian", "preconditioner", "solver", "util")
_importing = Lock()


def cf_laplacian(*args: Any, **more: Any) -> Any:
    """The matrix of closed-form matting: as pymatting.cf_laplacian."""
    return _part("laplacian.cf_laplacian").cf_laplacian(*args, **more)


def ichol(*args: Any, **more: Any) -> Any:
    """Incomplete Cholesky decomposition: as pymatting.ichol."""
    return _part("preconditioner.ichol").ichol(*args, **more)


def cg(*args: Any, **more: Any) -> Any:
    """Conjugate gradients: as pymatting.cg."""
    return _part("solver.cg").cg(*args, **more)


def estimate_foreground_ml(*args: Any, **more: Any) -> Any:
    """Fast multi-level foreground estimation: as pymatting.estimate_foreground_ml."""
    return _part("foreground.estimate_foreground_ml").estimate_foreground_ml(*args, **more)


def _part(name: str) -> ModuleType:
    with _importing:
        return _imported(name)


@cache
def _imported(name: str) -> ModuleType:
    if "pymatting" not in sys.modules:
        for each in ("pymatting", *(f"pymatting.{folder}" for folder in PACKAGES)):
            _put_off(each)
    return import_module(f"pymatting.{name}")


def _put_off(name: str) -> None:
    """Have a package whose own code runs only when something of it is asked for, as by a program
    that uses all of the library.
    """
    spec = find_spec(name)
    if spec is None or spec.loader is None:
        raise ModuleNotFoundError(f"{name} is not installed.", name=name)
    package, loader = module_from_spec(spec), spec.loader

    def asked(attribute: str) -> Any:
        # Whoever goes through all modules looks for such names, and wants nothing of it.
        if attribute.startswith("__"):
            raise AttributeError(attribute)
        vars(package).pop("__getattr__", None)
        loader.exec_module(package)
        return getattr(package, attribute)

    vars(package)["__getattr__"] = asked
    sys.modules[name] = package
