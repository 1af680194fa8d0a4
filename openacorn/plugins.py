"""Find plug-ins by scanning a package: one file, one constant, no list to edit."""

import importlib
import pkgutil
from types import ModuleType
from typing import TypeVar

T = TypeVar("T")


class PluginError(Exception):
    """A plug-in file does not define what its folder asks of it."""


def scan(package: ModuleType, constant: str, kind: type[T]) -> tuple[T, ...]:
    """Return `constant` of every module in `package`, in order of file name.

    Files whose name starts with an underscore are helpers and are passed over.
    Raises PluginError, naming the file, when the constant is missing or of another kind, so that a
    half-written plug-in stops the start-up instead of silently not being there.
    """
    found: list[T] = []
    for info in sorted(pkgutil.iter_modules(package.__path__), key=lambda item: item.name):
        if info.name.startswith("_"):
            continue
        module = importlib.import_module(f"{package.__name__}.{info.name}")
        value = getattr(module, constant, None)
        if not isinstance(value, kind):
            path = f"{package.__name__.replace('.', '/')}/{info.name}.py"
            raise PluginError(f"{path} must define {constant}, a {kind.__name__}")
        found.append(value)
    return tuple(found)
