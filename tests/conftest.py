"""No test needs a screen, and none touches the settings of the person who runs it."""

import os
import sys
from pathlib import Path

import pytest
from hypothesis import HealthCheck, Phase, settings

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
sys.path.insert(0, str(Path(__file__).parent))
sys.path.insert(0, str(Path(__file__).parent.parent))  # bare pytest finds the attacks as well

settings.register_profile("default", deadline=None, suppress_health_check=[HealthCheck.too_slow])
# the same examples every time where a failure would hold up a change that has nothing to do with it
# and found as it is: to make a failure small can take five minutes; fewer of them, as they never change
settings.register_profile(
    "repeatable",
    parent=settings.get_profile("default"),
    derandomize=True,
    max_examples=70,
    database=None,
    phases=[Phase.explicit, Phase.generate],
)
settings.load_profile("repeatable" if os.environ.get("CI") else "default")


@pytest.fixture(autouse=True)
def _own_settings(tmp_path, monkeypatch):
    monkeypatch.setenv("XDG_CONFIG_HOME", str(tmp_path / "config"))
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path / "state"))
    monkeypatch.setenv("XDG_CACHE_HOME", str(tmp_path / "cache"))


@pytest.fixture(autouse=True, scope="session")
def _application(qapp):
    """One application for all, with windows: whichever test comes first must not make one that can't have any."""


@pytest.fixture(autouse=True)
def _no_key_held(qapp):
    """The application remembers the modifiers of the last key; those of another test are no business of this one."""
    from PySide6.QtCore import Qt
    from PySide6.QtTest import QTest
    from PySide6.QtWidgets import QWidget

    if qapp.keyboardModifiers() != Qt.KeyboardModifier.NoModifier:
        QTest.keyRelease(QWidget(), Qt.Key.Key_F20, Qt.KeyboardModifier.NoModifier)
