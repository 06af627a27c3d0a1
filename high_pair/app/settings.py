"""What the window remembers between runs, in one file of the user's configuration folder."""

from __future__ import annotations

from pathlib import Path

from platformdirs import user_config_path, user_data_path
from PySide6.QtCore import QByteArray, QSettings

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
    def single_keys(self) -> bool:
        """Whether single letters act as shortcuts."""
        return self._text("single_keys", "on") != "off"

    @single_keys.setter
    def single_keys(self, on: bool) -> None:
        self._store.setValue("single_keys", "on" if on else "off")

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
    def recent(self) -> list[Path]:
        """The files opened last that are still there, the newest first."""
        value = self._store.value("recent", [])
        listed = value if isinstance(value, list) else [value]
        paths = [Path(each) for each in listed if isinstance(each, str) and each]
        return [path for path in paths if path.is_file()][:MOST_RECENT]

    def note_recent(self, path: Path) -> None:
        """Put a file first among the recent ones."""
        resolved = path.resolve()
        others = [each for each in self.recent if each != resolved]
        self._store.setValue("recent", [str(p) for p in [resolved, *others][:MOST_RECENT]])

    def flush(self) -> None:
        """Write everything to disk; a folder that can't be written is no reason to stop."""
        self._path.parent.mkdir(parents=True, exist_ok=True)
        self._store.sync()
