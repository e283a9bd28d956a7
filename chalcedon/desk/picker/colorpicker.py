"""A place to choose a paint: none, a colour, a gradient with its stops, an image; colours by name in the palette."""

from __future__ import annotations

import weakref
from collections.abc import Callable
from typing import Any

from PySide6.QtCore import QPoint, QSize, Qt, Signal
from PySide6.QtGui import QIcon, QPainter, QPixmap
from PySide6.QtWidgets import (
    QButtonGroup,
    QComboBox,
    QFileDialog,
    QHBoxLayout,
    QLineEdit,
    QVBoxLayout,
    QWidget,
)

from chalcedon.desk.looks.buttons import Button
from chalcedon.desk.looks.chips import draw_chip
from chalcedon.desk.looks.plain import Label, set_tip
from chalcedon.desk.looks.theme import font, theme
from chalcedon.desk.panels.panel import Popup
from chalcedon.desk.picker.bars import StopBar
from chalcedon.desk.picker.colorfields import WIDE, ColorFields
from chalcedon.desk.picker.patternfields import PatternFields
from chalcedon.files.images import source_for
from chalcedon.formula import Formula
from chalcedon.formula.relative import less
from chalcedon.problems import ChalcedonError
from chalcedon.scene import Gradient, Picture, Scene
from chalcedon.scene.color import RGBA
from chalcedon.scene.paints import (
    COLOR,
    FITS,
    PAINT,
    SPREADS,
    UNITS,
    Palette,
    Pattern,
    evenly,
    paints_of,
    palette_name,
    plain_stops,
    resolve,
    users_of,
)

MOST_USED, ABREAST = 26, 13
KINDS = ("none", "colour", "linear", "radial", "image", "pattern")


class ColorPicker(Popup):
    """A popup. Emits `picked` with a paint as the scene stores it while the person tries things out, and `named` with
    the palette when a colour is given a name or changed there."""

    picked = Signal(object)
    named = Signal(object)
    closed = Signal()

    def __init__(
        self,
        owner: QWidget,
        scene: Scene,
        value: Any,
        title: str,
        allow_none: bool = True,
        colors_only: bool = False,
        patterns: bool = True,
    ) -> None:
        super().__init__(f"Paint of {title}", owner)
        self._scene = weakref.ref(scene)  # the last one shown must not keep a scene that is closed
        self.palette_pairs = dict(scene.palette)
        self._value = value
        self._stop = 0
        self.in_units: Callable[[Gradient, str], Gradient] = lambda gradient, units: gradient._replace(units=units)
        """What a gradient is, counted in other units: whoever knows the shape knows where it lies."""
        self._last_color = value if isinstance(value, str) else "#d97b4a"
        self.fields = ColorFields(self.palette_pairs)
        self.text, self.complaint = self.fields.text, self.fields.complaint
        self.fields.changed.connect(self._color_changed)
        self._allow_none = allow_none
        self.fields.none.connect(self._take_away)
        self.fields.done.connect(self.close)
        head = Label(title)
        head.setFont(font(13, bold=True))
        layout = QVBoxLayout(self)
        layout.setContentsMargins(10, 8, 10, 10)
        layout.setSpacing(5)
        layout.addWidget(head)
        self.kinds: dict[str, Button] = {}
        if not colors_only:
            self._add_kinds(layout, allow_none, patterns)
        self._add_gradient(layout)
        self._add_picture(layout)
        self.pattern = PatternFields()
        self.pattern.changed.connect(self._put)
        layout.addWidget(self.pattern)
        layout.addWidget(self.fields)
        self._add_palette(layout)
        self._add_swatches(layout)
        self._show()

    @property
    def scene(self) -> Scene:
        """The scene that the paint is for; an empty one when it is gone."""
        return self._scene() or Scene()

    # building

    def _add_kinds(self, layout: QVBoxLayout, allow_none: bool, patterns: bool) -> None:
        row = QHBoxLayout()
        row.setSpacing(2)
        group = QButtonGroup(self)
        for kind in KINDS:
            if (kind == "none" and not allow_none) or (kind == "pattern" and not patterns):
                continue
            button = Button(kind)
            button.setCheckable(True)
            button.setAccessibleName(f"Paint: {kind}")
            button.clicked.connect(lambda _=False, k=kind: self._choose_kind(k))
            button.setStyleSheet(
                "QPushButton { padding: 2px 7px; min-width: 0; }"
                f"QPushButton:checked {{ border: 1.5px solid {theme().carnelian}; font-weight: bold; }}"
            )
            group.addButton(button)
            row.addWidget(button)
            self.kinds[kind] = button
        row.addStretch()
        layout.addLayout(row)

    def _add_gradient(self, layout: QVBoxLayout) -> None:
        self.gradient = QWidget()
        inner = QVBoxLayout(self.gradient)
        inner.setContentsMargins(0, 0, 0, 0)
        inner.setSpacing(4)
        self.stops = StopBar(WIDE)
        self.stops.chosen.connect(self._choose_stop)
        self.stops.moved.connect(self._move_stop)
        self.stops.added.connect(self._add_stop)
        self.stops.removed.connect(self._remove_stop)
        inner.addWidget(self.stops)
        row = QHBoxLayout()
        self.spread = _combo("How it goes on beyond its ends", SPREADS, lambda w: self._replace(spread=w))
        self.units = _combo("Measured in the box of the shape, or in the scene", UNITS, self._count_in)
        turn = Button("turn 45°")
        turn.clicked.connect(self._turn)
        swap = Button("swap")
        set_tip(swap, "The stops in reverse order")
        swap.clicked.connect(self._swap)
        self.turn = turn
        for part in (self.spread, self.units, turn, swap):
            row.addWidget(part)
        row.addStretch()
        inner.addLayout(row)
        layout.addWidget(self.gradient)

    def _add_picture(self, layout: QVBoxLayout) -> None:
        self.picture = QWidget()
        row = QHBoxLayout(self.picture)
        row.setContentsMargins(0, 0, 0, 0)
        self.file = Button("choose a file…")
        self.file.clicked.connect(self._choose_file)
        self.fit = _combo("How the image fits the box", FITS, lambda w: self._put(self._value._replace(fit=w)))
        row.addWidget(self.file)
        row.addWidget(self.fit)
        row.addStretch()
        layout.addWidget(self.picture)

    def _add_palette(self, layout: QVBoxLayout) -> None:
        row = QHBoxLayout()
        self.name = QLineEdit()
        self.name.setPlaceholderText("a name for this colour")
        self.name.setAccessibleName("Name for this colour in the palette")
        self.name.returnPressed.connect(self._give_name)
        self.keep = Button("to the palette")
        self.keep.clicked.connect(self._give_name)
        self.everywhere = Button("")
        self.everywhere.setCheckable(True)
        set_tip(self.everywhere, "Changes go to the colour of the palette, and so to every shape that uses it")
        row.addWidget(self.name)
        row.addWidget(self.keep)
        layout.addLayout(row)
        layout.addWidget(self.everywhere)

    def _add_swatches(self, layout: QVBoxLayout) -> None:
        if self.palette_pairs:
            self._swatch_rows(layout, "palette", {f"var(--{n})": n for n in self.palette_pairs})
        used: dict[str, int] = {}
        for shape in self.scene.walk():
            for _name, paint in paints_of(shape):
                if isinstance(paint, str) and not palette_name(paint):
                    used[paint] = used.get(paint, 0) + 1
        most = sorted(used, key=lambda c: -used[c])[:MOST_USED]
        if most:
            self._swatch_rows(layout, "in this scene", {c: c for c in most})

    def _swatch_rows(self, layout: QVBoxLayout, title: str, colors: dict[str, str]) -> None:
        label = Label(title)
        label.setFont(font(12))
        label.setStyleSheet(f"color: {theme().muted}")
        layout.addWidget(label)
        items = list(colors.items())
        for first in range(0, len(items), ABREAST):
            row = QHBoxLayout()
            row.setSpacing(2)
            for paint, name in items[first : first + ABREAST]:
                row.addWidget(self._swatch_button(paint, name))
            row.addStretch()
            layout.addLayout(row)

    def _swatch_button(self, paint: str, name: str) -> Button:
        button = Button()
        button.setFixedSize(22, 22)
        count = len(users_of(self.scene, name)) if paint != name else 0
        set_tip(button, f"{name}: used by {count} shape{'s' if count != 1 else ''}" if paint != name else name)
        button.setAccessibleName(name)
        button.setIcon(chip_icon(paint, self.palette_pairs))
        button.setIconSize(QSize(16, 16))
        button.setStyleSheet(
            "QPushButton { padding: 0; border: none; background: transparent; }"
            f"QPushButton:focus {{ border: 2px solid {theme().carnelian}; border-radius: 4px; }}"
        )
        button.clicked.connect(lambda _=False: self._swatch(paint))
        return button

    # showing

    def _show(self) -> None:
        value = self._value
        kind = self._kind()
        if kind in self.kinds:
            self.kinds[kind].setChecked(True)
        self.gradient.setVisible(isinstance(value, Gradient))
        self.picture.setVisible(isinstance(value, Picture))
        self.fields.setVisible(not isinstance(value, Pattern | Picture))
        self.pattern.setVisible(isinstance(value, Pattern))
        if isinstance(value, Pattern):
            self.pattern.show_pattern(value, self.scene)
        color = self._color()
        self.fields.show_paint(color)
        self._show_name()
        if isinstance(value, Gradient):
            self._stop = min(self._stop, len(value.stops) - 1)
            self.stops.set(self._looks_of(value), self._stop)
            self.spread.setCurrentText(value.spread)
            self.units.setCurrentText(value.units)
            self.turn.setVisible(value.kind == "linear")
        if isinstance(value, Picture):
            self.fit.setCurrentText(value.fit)
        if self.isVisible():
            self.adjustSize()

    def _show_name(self) -> None:
        """The name that the colour has, or could be given."""
        color = self._color()
        name = palette_name(color)
        self.everywhere.setVisible(bool(name) and name in self.palette_pairs)
        self.name.setVisible(color is not None and not name)
        self.keep.setVisible(color is not None and not name)
        if name:
            count = len(users_of(self.scene, name))
            self.everywhere.setText(f"change {name} itself, in {count} shape{'s' if count != 1 else ''}")

    def _kind(self) -> str:
        value = self._value
        return (
            "none"
            if value is None
            else value.kind
            if isinstance(value, Gradient)
            else "image"
            if isinstance(value, Picture)
            else "pattern"
            if isinstance(value, Pattern)
            else "colour"
        )

    def _looks_of(self, gradient: Gradient) -> list[tuple[float, RGBA]]:
        return [(float(o), resolve(c, self.palette_pairs) or (0, 0, 0, 0)) for o, c in plain_stops(gradient)]

    def _color(self) -> str | Formula | None:
        value = self._value
        if isinstance(value, Gradient):
            return value.stops[min(self._stop, len(value.stops) - 1)][1]
        return value if isinstance(value, str | Formula) else None

    # changing

    def _put(self, value: Any, show: bool = True) -> None:
        self._value = value
        if isinstance(value, str):
            self._last_color = value
        self.picked.emit(value)
        if show:
            self._show()

    def _take_away(self) -> None:
        if self._allow_none and not isinstance(self._value, Gradient):
            self._put(None)
        else:
            self.complaint.setText("A colour belongs here.")
            self.complaint.show()

    def _color_changed(self, text: str | Formula) -> None:
        name = palette_name(self._color())
        if name and self.everywhere.isChecked() and not palette_name(text):
            self._name_color(name, text)
            return
        self._set_color(text)

    def _name_color(self, name: str, color: str | Formula) -> None:
        """Has a name of the palette mean another colour. Raises ValueProblem."""
        pairs = Palette().read({**dict(self.scene.stated("palette")), name: color})
        self.palette_pairs[name] = COLOR.plain(color)
        self.named.emit(pairs)

    def _set_color(self, text: str | Formula) -> None:
        value = self._value
        if isinstance(value, Gradient):
            stops = list(value.stops)
            stops[self._stop] = (stops[self._stop][0], text)
            value = value._replace(stops=tuple(stops))
            self._put(value, show=False)
            self.stops.set(self._looks_of(value), self._stop)
        else:
            self._put(text, show=False)
            if "colour" in self.kinds:
                self.kinds["colour"].setChecked(True)
        self._show_name()

    def _choose_kind(self, kind: str) -> None:
        first = self._color() or self._last_color
        if kind == self._kind() and kind != "image":
            return  # it is that already
        if kind == "none":
            self._put(None)
        elif kind == "colour":
            self._put(first)
        elif kind == "image":
            self._put(self._value if isinstance(self._value, Picture) else Picture("", "cover"))
            self._choose_file()
        elif kind == "pattern":
            tile = next((s.id for s in self.scene.walk() if not s.visible), "")
            tile = tile or next((s.id for s in self.scene.walk()), "tile")
            self._put(Pattern(tile))
        elif isinstance(self._value, Gradient):
            self._put(evenly(kind, ["#000000"])._replace(stops=self._value.stops, spread=self._value.spread))
        else:
            self._put(evenly(kind, [COLOR.plain(first), "#ffffff"], 90.0))

    def _choose_stop(self, index: int) -> None:
        self._stop = index
        self._show()

    def _move_stop(self, index: int, offset: float) -> None:
        value = self._value
        if not isinstance(value, Gradient):
            return
        stops = list(value.stops)
        moved = (offset, stops[index][1])
        stops[index] = moved
        stops.sort(key=_offset)
        self._stop = self.stops.current = stops.index(moved)
        self._put(value._replace(stops=tuple(stops)))

    def _add_stop(self, offset: float) -> None:
        value = self._value
        if not isinstance(value, Gradient):
            return
        before = [stop[1] for stop in value.stops if _offset(stop) <= offset]
        new = (offset, before[-1] if before else value.stops[0][1])
        stops = sorted([*value.stops, new], key=_offset)
        self._stop = stops.index(new)
        self._put(value._replace(stops=tuple(stops)))

    def _remove_stop(self, index: int) -> None:
        value = self._value
        if isinstance(value, Gradient) and len(value.stops) > 1:
            self._put(value._replace(stops=(*value.stops[:index], *value.stops[index + 1 :])))

    def _replace(self, **values: Any) -> None:
        if isinstance(self._value, Gradient) and any(getattr(self._value, n) != v for n, v in values.items()):
            self._put(self._value._replace(**values))

    def _count_in(self, units: str) -> None:
        if isinstance(self._value, Gradient) and self._value.units != units:
            self._put(self.in_units(self._value, units))

    def _turn(self) -> None:
        """The next of the eight directions."""
        import math

        if isinstance(self._value, Gradient):
            x1, y1, x2, y2 = PAINT.plain(self._value).line
            angle = math.degrees(math.atan2(y2 - y1, x2 - x1))
            turned = evenly("linear", ["#000000"], round(angle / 45) * 45 + 45)
            self._put(self._value._replace(line=turned.line, units="box"))

    def _swap(self) -> None:
        if isinstance(self._value, Gradient):
            stops = tuple((less(1, "1", offset), color) for offset, color in reversed(self._value.stops))
            self._put(self._value._replace(stops=stops))

    def _choose_file(self) -> None:
        path, _ = QFileDialog.getOpenFileName(
            self, "Image", self.scene.folder or "", "Images (*.png *.jpg *.jpeg *.webp *.gif)"
        )
        if not path:
            return
        try:
            source = source_for(path, self.scene.folder)
        except ChalcedonError as problem:
            self.complaint.setText(problem.sentence)
            self.complaint.show()
            return
        self._put(Picture(source, self.fit.currentText()))

    def _give_name(self) -> None:
        name, color = self.name.text().strip(), self._color()
        if not name or color is None or palette_name(color):
            self.name.setFocus()
            return
        try:
            self._name_color(name, color)
        except ChalcedonError as problem:
            self.complaint.setText(problem.sentence)
            self.complaint.show()
            return
        self._set_color(f"var(--{name})")
        self.name.clear()
        self._show()

    def _swatch(self, paint: str) -> None:
        self._set_color(paint)
        self._show()

    def closeEvent(self, event: object) -> None:
        self.closed.emit()

    def open_at(self, spot: QPoint) -> None:
        self.show_at(spot)
        self.text.setFocus()
        self.text.selectAll()


def _combo(name: str, words: tuple[str, ...], act: Any) -> QComboBox:
    box = QComboBox()
    box.addItems(list(words))
    box.setAccessibleName(name)
    set_tip(box, name)
    box.activated.connect(lambda i: act(words[i]))
    return box


def chip_icon(paint: Any, palette: dict[str, str]) -> QIcon:
    """A paint as the icon of a button."""
    out = QPixmap(32, 32)
    out.setDevicePixelRatio(2)
    out.fill(Qt.GlobalColor.transparent)
    painter = QPainter(out)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    draw_chip(painter, 0, 0, paint, False, palette=palette)
    painter.end()
    return QIcon(out)


def _offset(stop: tuple[Any, Any]) -> float:
    return float(stop[0].last if isinstance(stop[0], Formula) else stop[0])
