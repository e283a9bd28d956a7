"""Starting the desk."""

from __future__ import annotations

import os
import sys
import threading
from pathlib import Path

import platformdirs
from PySide6.QtCore import QSettings, QTimer
from PySide6.QtWidgets import QApplication

from chalcedon.collector import collector_paused
from chalcedon.desk import guard
from chalcedon.desk.access.install import install
from chalcedon.desk.looks import theme
from chalcedon.desk.signals import Ending
from chalcedon.desk.window import Window
from chalcedon.painter.fonts import load_fonts

DISPLAYS = "DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM"
"""What says that there is something to open a window on."""


def settings() -> QSettings:
    """What the desk remembers between runs: theme, recent files, geometry."""
    folder = Path(platformdirs.user_config_dir("chalcedon"))
    return QSettings(str(folder / "desk.ini"), QSettings.Format.IniFormat)


def make_app() -> QApplication:
    app = QApplication.instance() or QApplication(sys.argv[:1])
    assert isinstance(app, QApplication)
    app.setApplicationName("chalcedon")
    app.setApplicationDisplayName("Chalcedon")
    load_fonts()
    return app


def open_window(store: QSettings, theme_name: str | None = None) -> Window:
    """A window in the remembered or the given theme."""
    app = make_app()
    install()
    if theme_name is not None:
        store.setValue("theme", theme_name)
    chosen = str(store.value("theme", "plaster"))
    theme.apply(app, chosen if chosen in theme.THEMES else "plaster")
    with collector_paused():
        return Window(store)


def end_all() -> None:
    """Ends every window without a question, as a signal from outside asks."""
    for window in [w for w in QApplication.topLevelWidgets() if isinstance(w, Window)]:
        window.end_now()
    QApplication.quit()


def run(file: str | None, theme_name: str | None = None) -> int:
    """Opens the desk and runs it to its end."""
    if not any(os.environ.get(name) for name in DISPLAYS):
        print(
            "There is no display to open a window on. `chalcedon render`, `hit`, `check` and `tour` work without one.",
            file=sys.stderr,
        )
        return 2
    store = settings()
    window = open_window(store, theme_name)
    guard.install(window.session.say)
    geometry = store.value("geometry")
    if geometry is not None:
        window.restoreGeometry(geometry)
    if file is not None:
        window.files.open_path(Path(file))
    elif store.value("started") is None:
        window.files.open_demo("harbour")
    else:
        window.shelving.show()
    store.setValue("started", "yes")
    window.fit_on_screen()  # as far as is known before there is a frame
    window.show()
    QTimer.singleShot(0, window.fit_on_screen)
    QTimer.singleShot(250, window.fit_on_screen)  # a window manager takes its time with the frame
    if not window.shelving.shown:
        window.canvas.setFocus()
    ending = Ending(end_all)
    window.files.offer_recovered()
    # numeric code is only needed for large scenes: it is read in after the first frame, beside the person's work
    QTimer.singleShot(300, lambda: threading.Thread(target=_warm, daemon=True).start())
    code = make_app().exec()
    del ending
    return code


def _warm() -> None:
    import numpy  # noqa: F401
