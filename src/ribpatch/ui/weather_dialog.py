"""Which column of a weather file is what, and in which units: shown as it is taken, to be confirmed or changed."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtWidgets import QDialog, QDialogButtonBox, QFormLayout, QLabel, QWidget

from ribpatch.core.dates import moment_words
from ribpatch.core.errors import Fault
from ribpatch.core.text import counted
from ribpatch.core.units import Kind, System, shown
from ribpatch.formats.weather_csv import KEYS, NEEDED, Key, WeatherColumns, forecast_of
from ribpatch.ui.scaling import size_within
from ribpatch.ui.widgets.combo import Combo
from ribpatch.ui.widgets.soft import soft_label

if TYPE_CHECKING:
    from ribpatch.core.timetable import Forecast
    from ribpatch.formats.weather_csv import WeatherTable

# Words of the two units of each key: as it is usually, as it may be.
UNITS: dict[Key, tuple[str, tuple[str, str], str]] = {
    "time": ("utc", ("by this computer's clock", "UTC where none states its zone"), "zone of the times"),
    "temperature": ("fahrenheit", ("°C", "°F"), "unit of the temperature"),
    "humidity": ("share", ("percent", "a share of 1"), "unit of the humidity"),
    "rain": ("inches", ("mm", "inches"), "unit of the rain"),
}


class WeatherDialog(QDialog):
    """Accepted where the weather is to be taken; ``forecast`` is it then."""

    def __init__(self, table: WeatherTable, system: System, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle(f"Weather from {table.name}")
        self._table, self._system = table, system
        self.forecast: Forecast | None = None
        self.columns: dict[Key, Combo] = {}
        self.units: dict[Key, Combo] = {}
        form = QFormLayout(self)
        head = QLabel("; ".join(table.doubts) or "The columns are taken as their headings say.")
        head.setText(f"⚠ Look: {head.text()}." if table.doubts else head.text())
        head.setWordWrap(True)
        form.addRow(head)
        for key in KEYS:
            self.columns[key] = column = Combo()
            column.setAccessibleName(f"column of the {key}")
            column.addItem("none" if key not in NEEDED else "choose", -1)
            for n, name in enumerate(table.heads):
                column.addItem(name[:60] or f"column {n + 1}", n)
            column.setCurrentIndex(column.findData(table.guess.at(key)))
            field, words, called = UNITS[key]
            self.units[key] = unit = Combo()
            unit.setAccessibleName(called)
            for n, word in enumerate(words):
                unit.addItem(word, bool(n))
            unit.setCurrentIndex(int(getattr(table.guess, field)))
            form.addRow(key, column)
            form.addRow(called, unit)
            column.currentIndexChanged.connect(lambda _index: self._show())
            unit.currentIndexChanged.connect(lambda _index: self._show())
        self.said = soft_label()
        form.addRow(self.said)
        buttons = QDialogButtonBox()
        self.take = buttons.addButton("Take this weather", QDialogButtonBox.ButtonRole.AcceptRole)
        buttons.addButton("Cancel", QDialogButtonBox.ButtonRole.RejectRole)
        buttons.accepted.connect(lambda: self.accept())
        buttons.rejected.connect(lambda: self.reject())
        form.addRow(buttons)
        size_within(self, 520, 460)
        self._show()

    @property
    def chosen(self) -> WeatherColumns:
        """The columns and units as they are set."""
        at = {key: int(self.columns[key].currentData()) for key in KEYS}
        other = {key: bool(self.units[key].currentData()) for key in KEYS}
        return WeatherColumns(
            at["time"],
            at["temperature"],
            at["humidity"],
            at["rain"],
            fahrenheit=other["temperature"],
            share=other["humidity"],
            inches=other["rain"],
            utc=other["time"],
        )

    def _show(self) -> None:
        """What the file says if it is read so."""
        try:
            made = self.forecast = forecast_of(self._table, self.chosen)
        except Fault as fault:
            self.forecast = None
            self.said.setText(f"⚠ {fault.sentence[:400]}")
        else:
            self.said.setText(self._words(made))
        self.take.setEnabled(self.forecast is not None)

    def _words(self, made: Forecast) -> str:
        low, high = (shown(v, Kind.TEMPERATURE, self._system) for v in (min(made.temperature), max(made.temperature)))
        rain = f", {sum(made.rain):.1f} mm of rain in all" if made.rain else ""
        hours = counted(len(made.temperature), "hour", "hours")
        damp = f"{min(made.humidity):.0%} to {max(made.humidity):.0%} humidity"
        return f"{hours} from {moment_words(made.start)}: {low} to {high}, {damp}{rain}."
