"""What the window remembers between runs, in one file of the user's configuration folder."""

from __future__ import annotations

from pathlib import Path

from platformdirs import user_config_path, user_data_path
from PySide6.QtCore import QByteArray, QSettings

from high_pair.formats.location import Location, WebAddress, location_of, resolved
from high_pair.formats.web.settings import (
    DEFAULT,
    LEAST_LIMIT,
    LEAST_ZOOM,
    MOST_LIMIT,
    MOST_ZOOM,
    WebSettings,
    parse_widths,
)
from high_pair.review.listing import Order
from high_pair.wcag.asked import NO_AIM, Aim, read_aim

MOST_RECENT = 8
SYSTEM = "system"


class Settings:
    """The window's memory; `path` is for tests."""

    def __init__(self, path: Path | None = None) -> None:
        self._path = path or user_config_path("high-pair") / "window.ini"
        # Tests keep all that is remembered in one folder.
        self._log_path = path.with_name("log.json") if path else None
        self._store = QSettings(str(self._path), QSettings.Format.IniFormat)

    def _text(self, key: str, default: str = "") -> str:
        value = self._store.value(key, default)
        if isinstance(value, list):
            # What was written with commas may come back in parts.
            value = ", ".join(str(part).strip() for part in value)
        return value if isinstance(value, str) else default

    @property
    def log_path(self) -> Path | None:
        """Where the log of the Bench is kept; None for the user's data folder."""
        return self._log_path

    @property
    def autosave_folder(self) -> Path:
        """Where the review under way is kept, in case the window ends without closing."""
        if self._log_path is not None:
            return self._log_path.with_name("under-way")
        return user_data_path("high-pair") / "under-way"

    @property
    def theme(self) -> str:
        """The theme: light, dark, or the system's."""
        return self._text("theme", SYSTEM)

    @theme.setter
    def theme(self, name: str) -> None:
        self._store.setValue("theme", name)

    @property
    def level(self) -> str:
        """The level asked for."""
        return self._text("level", "AA")

    @level.setter
    def level(self, name: str) -> None:
        self._store.setValue("level", name)

    @property
    def aim(self) -> Aim:
        """What remedies are to reach."""
        try:
            return read_aim(self._text("aim", "1x"))
        except ValueError:
            return NO_AIM

    @aim.setter
    def aim(self, aim: Aim) -> None:
        self._store.setValue("aim", aim.words or "1x")

    @property
    def list_order(self) -> Order:
        """What comes first in the list."""
        known = self._text("list_order", Order.RATIO)
        return Order(known) if known in list(Order) else Order.RATIO

    @list_order.setter
    def list_order(self, order: Order) -> None:
        self._store.setValue("list_order", order.value)

    @property
    def single_keys(self) -> bool:
        """Whether single letters act as shortcuts."""
        return self._text("single_keys", "on") != "off"

    @single_keys.setter
    def single_keys(self, on: bool) -> None:
        self._store.setValue("single_keys", "on" if on else "off")

    @property
    def web(self) -> WebSettings:
        """How web pages are shown."""
        try:
            widths = parse_widths(self._text("web/widths", str(DEFAULT.widths[0])))
            zoom = min(MOST_ZOOM, max(LEAST_ZOOM, float(self._text("web/zoom", "1"))))
            limit = float(self._text("web/limit", str(DEFAULT.limit)))
        except ValueError:
            return DEFAULT
        limit = min(MOST_LIMIT, max(LEAST_LIMIT, limit))
        dark = self._text("web/dark") == "on"
        return WebSettings(widths, dark, zoom, limit, self._text("web/states", "on") != "off")

    @web.setter
    def web(self, chosen: WebSettings) -> None:
        widths = ", ".join(str(width) for width in chosen.widths)
        self._store.setValue("web/widths", widths)
        self._store.setValue("web/zoom", f"{chosen.zoom:g}")
        self._store.setValue("web/limit", f"{chosen.limit:g}")
        self._store.setValue("web/dark", "on" if chosen.dark else "off")
        self._store.setValue("web/states", "on" if chosen.states else "off")

    @property
    def sets_folder(self) -> Path:
        """Where kept sets of colours lie."""
        if self._log_path is not None:
            return self._log_path.with_name("sets")
        return user_data_path("high-pair") / "sets"

    @property
    def seats_file(self) -> Path:
        """Where a person's own seats lie."""
        if self._log_path is not None:
            return self._log_path.with_name("seats.json")
        return user_data_path("high-pair") / "seats.json"

    @property
    def set_in_use(self) -> str:
        """The file of the kept set that is offered wherever a colour is chosen."""
        return self._text("set_in_use")

    @set_in_use.setter
    def set_in_use(self, file: str) -> None:
        self._store.setValue("set_in_use", file)

    def words(self, name: str, default: str = "") -> str:
        """Give a stored text of the Bench."""
        return self._text(f"bench/{name}", default)

    def keep_words(self, name: str, words: str) -> None:
        """Store a text of the Bench."""
        self._store.setValue(f"bench/{name}", words)

    def state(self, name: str) -> QByteArray | None:
        """Give a stored geometry; None when there is none."""
        value = self._store.value(f"state/{name}")
        return value if isinstance(value, QByteArray) else None

    def keep_state(self, name: str, value: QByteArray) -> None:
        """Store a geometry."""
        self._store.setValue(f"state/{name}", value)

    @property
    def recent(self) -> list[Location]:
        """The files opened last that are still there, the newest first."""
        value = self._store.value("recent", [])
        listed = value if isinstance(value, list) else [value]
        paths = [location_of(each) for each in listed if isinstance(each, str) and each]
        there = [path for path in paths if isinstance(path, WebAddress) or path.is_file()]
        return there[:MOST_RECENT]

    def note_recent(self, place: Location) -> None:
        """Put a file first among the recent ones."""
        first = resolved(place)
        others = [each for each in self.recent if each != first]
        self._store.setValue("recent", [str(each) for each in [first, *others][:MOST_RECENT]])

    def flush(self) -> None:
        """Write everything to disk; a folder that can't be written is no reason to stop."""
        self._path.parent.mkdir(parents=True, exist_ok=True)
        self._store.sync()
