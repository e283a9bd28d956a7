"""Plaster and Basalt: the colours and fonts of the desk."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

from PySide6.QtGui import QColor, QFont, QPalette
from PySide6.QtWidgets import QApplication

from chalcedon.painter.fonts import face


@dataclass(frozen=True)
class Theme:
    """Named colours. Text colours keep at least 4.5:1 against paper and panel."""

    name: str
    paper: str
    panel: str
    ink: str
    muted: str
    line: str
    sunken: str
    desk: str
    carnelian: str
    chrysoprase: str
    chalcedony: str
    selected: str
    live: str
    warn: str
    strata: tuple[str, ...]

    def color(self, name: str, alpha: int = 255) -> QColor:
        return _color(getattr(self, name), alpha)


@lru_cache(maxsize=256)
def _color(text: str, alpha: int) -> QColor:
    out = QColor(text)
    out.setAlpha(alpha)
    return out


PLASTER = Theme(
    "plaster",
    paper="#EFEDE8",
    panel="#F7F5F1",
    ink="#22292E",
    muted="#5D6366",
    line="#D8D4CB",
    sunken="#E7E4DC",
    desk="#D5D0C8",
    carnelian="#B8482A",
    chrysoprase="#35705A",
    chalcedony="#7FA3B8",
    selected="#DCE5EA",
    live="#DFEBE3",
    warn="#F6E3DA",
    strata=("#9DB7C5", "#CF9A6B", "#8FB3A0", "#BFAECB", "#D9C178", "#C98F86"),
)
BASALT = Theme(
    "basalt",
    paper="#1E2326",
    panel="#272D31",
    ink="#E6E3DC",
    muted="#ABB1B4",
    line="#3A4247",
    sunken="#20262A",
    desk="#16191B",
    carnelian="#E27B58",
    chrysoprase="#7DBE9F",
    chalcedony="#7FA3B8",
    selected="#33424C",
    live="#2B3F37",
    warn="#45302A",
    strata=("#5F7F92", "#9A6D46", "#5C8571", "#82738F", "#9A8645", "#8D5D56"),
)
THEMES = {t.name: t for t in (PLASTER, BASALT)}

_current = PLASTER


def theme() -> Theme:
    """The theme in use."""
    return _current


@lru_cache(maxsize=64)
def font(size: int = 14, bold: bool = False, italic: bool = False) -> QFont:
    """Source Sans at a size in px, with tabular figures where Qt can ask for them."""
    out = face(size, bold)
    out.setItalic(italic)
    out.setFeature(QFont.Tag("tnum"), 1)
    return out


def apply(app: QApplication, name: str) -> None:
    """Gives the application a theme: palette, font and the style of the stock widgets."""
    global _current
    _current = t = THEMES[name]
    app.setStyle("Fusion")
    app.setFont(font())
    palette = QPalette()
    role = QPalette.ColorRole
    for which, color in (
        (role.Window, t.paper),
        (role.Base, t.panel),
        (role.AlternateBase, t.paper),
        (role.Button, t.panel),
        (role.WindowText, t.ink),
        (role.Text, t.ink),
        (role.ButtonText, t.ink),
        (role.Highlight, t.chalcedony),
        (role.HighlightedText, "#10181D"),
        (role.ToolTipBase, t.panel),
        (role.ToolTipText, t.ink),
        (role.PlaceholderText, t.muted),
        (role.Mid, t.line),
        (role.Dark, t.line),
        (role.Light, t.panel),
    ):
        palette.setColor(which, QColor(color))
    for which in (role.WindowText, role.Text, role.ButtonText):
        palette.setColor(QPalette.ColorGroup.Disabled, which, QColor(t.muted))
    app.setPalette(palette)
    sheet = _sheet(t)
    if app.styleSheet() != sheet:  # every widget there is takes it up anew
        app.setStyleSheet(sheet)


def _sheet(t: Theme) -> str:
    return f"""
    QMenuBar {{ background: transparent; padding: 0 6px; }}
    QMenuBar::item {{ padding: 5px 9px; border-radius: 4px; background: transparent; }}
    QMenuBar::item:selected {{ background: {t.sunken}; }}
    QMenu {{ background: {t.panel}; border: 1px solid {t.line}; padding: 4px; }}
    QMenu::item {{ padding: 5px 28px 5px 22px; border-radius: 4px; }}
    QMenu::item:selected {{ background: {t.selected}; color: {t.ink}; }}
    QMenu::item:disabled {{ color: {t.muted}; }}
    QMenu::separator {{ height: 1px; background: {t.line}; margin: 4px 8px; }}
    QToolTip {{ background: {t.panel}; color: {t.ink}; border: 1px solid {t.line}; padding: 3px 6px; }}
    QLineEdit {{ background: {t.panel}; border: 1px solid {t.line}; border-radius: 4px; padding: 2px 6px;
                 selection-background-color: {t.chalcedony}; selection-color: #10181D; }}
    QLineEdit:focus {{ border-color: {t.carnelian}; }}
    QToolButton {{ border: 1px solid transparent; border-radius: 5px; padding: 3px; background: transparent; }}
    QToolButton:hover {{ background: {t.sunken}; }}
    QToolButton:checked {{ background: {t.warn}; border-color: {t.carnelian}; }}
    QToolButton:focus {{ border-color: {t.carnelian}; }}
    QPushButton {{ border: 1px solid {t.line}; border-radius: 4px; padding: 4px 12px; background: {t.panel}; }}
    QPushButton:hover {{ background: {t.sunken}; }}
    QPushButton:focus {{ border-color: {t.carnelian}; }}
    QSplitter::handle {{ background: {t.line}; }}
    QScrollBar:vertical {{ background: transparent; width: 11px; margin: 0; }}
    QScrollBar::handle:vertical {{ background: {t.line}; border-radius: 4px; min-height: 28px; margin: 1px 2px; }}
    QScrollBar::handle:vertical:hover {{ background: {t.muted}; }}
    QScrollBar::add-line, QScrollBar::sub-line {{ height: 0; width: 0; }}
    QScrollBar::add-page, QScrollBar::sub-page {{ background: transparent; }}
    QListWidget {{ background: {t.panel}; border: 1px solid {t.line}; outline: 0; }}
    QListWidget::item {{ padding: 4px 8px; }}
    QListWidget::item:selected {{ background: {t.selected}; color: {t.ink}; }}
    """
