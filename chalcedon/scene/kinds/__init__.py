"""The kinds of shape, one a file. A file that is put here is a kind: what it says of itself is read everywhere."""

from __future__ import annotations

import importlib
import pkgutil

for _module in pkgutil.iter_modules(__path__):
    importlib.import_module(f"{__name__}.{_module.name}")
