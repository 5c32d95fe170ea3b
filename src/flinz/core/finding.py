"""Finds what the modules of a room add to it, each under one name."""

import importlib
import pkgutil
from types import ModuleType
from typing import Any


def found_in(room: ModuleType, name: str) -> list[Any]:
    """What modules of a room have under a name, in the order of the modules' names.

    Its registry, which asks, is left out.
    """
    modules = sorted(module.name for module in pkgutil.iter_modules(room.__path__))
    loaded = [
        importlib.import_module(f"{room.__name__}.{module}")
        for module in modules
        if module != "registry"
    ]
    return [getattr(module, name) for module in loaded if hasattr(module, name)]
