"""The window's colours: strictly neutral greys, light and dark, and one accent.

The reviewer judges colour in this window, so nothing in it may bias the eye.
`measured_pairs` lists what stands on what; the tests measure every pair.
"""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtGui import QColor, QFont, QFontDatabase, QGuiApplication, QPalette
from PySide6.QtWidgets import QApplication

from high_pair.raster.fonts import FOLDER

MARKS = Path(__file__).resolve().parent.parent / "data" / "marks"
FAMILY = "Atkinson Hyperlegible"
SAMPLE_FOLDER = "carlito"
TEXT_PIXELS = 14
SMALL_PIXELS = 13


@dataclass(frozen=True)
class Theme:
    """Colours as #RRGGBB.

    bar, strip, surround, sheet, panel, field: surfaces; chosen: a chosen row;
    text, quiet: text; surround_text: on the surround; edge: borders of
    controls; rule: lines that only divide; accent, on_accent: focus, choice,
    and the main button; mark: the wedge of what falls short; track: the ladder.
    """

    name: str
    bar: str
    strip: str
    surround: str
    sheet: str
    panel: str
    field: str
    chosen: str
    text: str
    quiet: str
    surround_text: str
    edge: str
    rule: str
    accent: str
    on_accent: str
    mark: str
    track: str


LIGHT = Theme(
    "light",
    bar="#F0F0F0",
    strip="#DCDCDC",
    surround="#8E8E8E",
    sheet="#F7F7F7",
    panel="#F0F0F0",
    field="#FCFCFC",
    chosen="#DFDFDF",
    text="#1A1A1A",
    quiet="#505050",
    surround_text="#101010",
    edge="#6E6E6E",
    rule="#C4C4C4",
    accent="#47379E",
    on_accent="#FFFFFF",
    mark="#8F4300",
    track="#CECECE",
)
DARK = Theme(
    "dark",
    bar="#262626",
    strip="#1C1C1C",
    surround="#4C4C4C",
    sheet="#202020",
    panel="#262626",
    field="#181818",
    chosen="#3A3A3A",
    text="#EFEFEF",
    quiet="#BDBDBD",
    surround_text="#F5F5F5",
    edge="#929292",
    rule="#3E3E3E",
    accent="#B8ADF2",
    on_accent="#17122E",
    mark="#F0A45C",
    track="#4A4A4A",
)
THEMES = {theme.name: theme for theme in (LIGHT, DARK)}

TEXT_RATIO, CONTROL_RATIO = 4.5, 3.0


def measured_pairs(theme: Theme) -> list[tuple[str, str, float, str]]:
    """List what stands on what in the window: foreground, background, ratio asked, words."""
    surfaces = {
        "bar": theme.bar,
        "strip": theme.strip,
        "sheet": theme.sheet,
        "panel": theme.panel,
        "field": theme.field,
        "chosen row": theme.chosen,
    }
    found = []
    for words, surface in surfaces.items():
        found.append((theme.text, surface, TEXT_RATIO, f"text on {words}"))
        found.append((theme.quiet, surface, TEXT_RATIO, f"quiet text on {words}"))
        found.append((theme.edge, surface, CONTROL_RATIO, f"a control's border on {words}"))
        found.append((theme.accent, surface, CONTROL_RATIO, f"focus on {words}"))
        found.append((theme.mark, surface, CONTROL_RATIO, f"the wedge on {words}"))
    found.append((theme.surround_text, theme.surround, TEXT_RATIO, "text on the surround"))
    found.append((theme.on_accent, theme.accent, TEXT_RATIO, "the main button's words"))
    found.append((theme.text, theme.track, CONTROL_RATIO, "the ladder's rungs on its track"))
    return found


def load_fonts() -> None:
    """Make the shipped families of the interface and of samples known to Qt."""
    for family in ("atkinson-hyperlegible", SAMPLE_FOLDER):
        for path in sorted(Path(FOLDER / family).glob("*.ttf")):
            QFontDatabase.addApplicationFont(str(path))


def font(pixels: int = TEXT_PIXELS, bold: bool = False) -> QFont:
    """Give the interface font at a size."""
    made = QFont(FAMILY)
    made.setPixelSize(pixels)
    made.setBold(bold)
    return made


def theme_for(name: str) -> Theme:
    """Give a theme by its name; the system's choice for any other word."""
    if name in THEMES:
        return THEMES[name]
    dark = QGuiApplication.styleHints().colorScheme() is Qt.ColorScheme.Dark
    return DARK if dark else LIGHT


def colour(code: str) -> QColor:
    """Give Qt's colour for #RRGGBB."""
    return QColor(code)


def apply(application: QApplication, theme: Theme) -> None:
    """Dress the whole application."""
    application.setStyle("Fusion")
    application.setFont(font())
    palette = QPalette()
    roles = {
        QPalette.ColorRole.Window: theme.panel,
        QPalette.ColorRole.WindowText: theme.text,
        QPalette.ColorRole.Base: theme.field,
        QPalette.ColorRole.AlternateBase: theme.sheet,
        QPalette.ColorRole.Text: theme.text,
        QPalette.ColorRole.Button: theme.panel,
        QPalette.ColorRole.ButtonText: theme.text,
        QPalette.ColorRole.ToolTipBase: theme.field,
        QPalette.ColorRole.ToolTipText: theme.text,
        QPalette.ColorRole.PlaceholderText: theme.quiet,
        QPalette.ColorRole.Highlight: theme.accent,
        QPalette.ColorRole.HighlightedText: theme.on_accent,
        QPalette.ColorRole.Link: theme.accent,
        QPalette.ColorRole.Mid: theme.edge,
        QPalette.ColorRole.Dark: theme.edge,
    }
    for role, code in roles.items():
        palette.setColor(role, colour(code))
    for role in (QPalette.ColorRole.ButtonText, QPalette.ColorRole.Text):
        palette.setColor(QPalette.ColorGroup.Disabled, role, colour(theme.quiet))
    application.setPalette(palette)
    application.setStyleSheet(style_sheet(theme))


def style_sheet(theme: Theme) -> str:
    """Write the style sheet of the window's own controls."""
    marks = MARKS.as_posix()
    return f"""
    QWidget {{ color: {theme.text}; }}
    QToolTip {{ background: {theme.field}; color: {theme.text}; border: 1px solid {theme.edge};
        padding: 4px; }}
    QFrame#bar, QFrame#foot {{ background: {theme.bar}; border: 0; }}
    QFrame#bar {{ border-bottom: 1px solid {theme.rule}; }}
    QFrame#foot {{ border-top: 1px solid {theme.rule}; }}
    QFrame#drop {{ background: {theme.sheet}; border: 2px dashed {theme.edge};
        border-radius: 12px; }}
    QFrame#strip {{ background: {theme.strip}; border: 0; border-right: 1px solid {theme.rule}; }}
    QFrame#sheet {{ background: {theme.sheet}; border: 0; border-top: 1px solid {theme.rule}; }}
    QFrame#panel, QScrollArea#panel {{ background: {theme.panel}; border: 0;
        border-left: 1px solid {theme.rule}; }}
    QWidget#panelInside {{ background: {theme.panel}; }}
    QScrollArea#bench, QWidget#benchInside {{ background: {theme.strip}; }}
    QFrame#card {{ background: {theme.sheet}; border: 1px solid {theme.rule};
        border-radius: 8px; }}
    QLabel[quiet="true"] {{ color: {theme.quiet}; }}
    QLabel[heading="true"] {{ font-weight: bold; }}
    QListView {{ background: {theme.sheet}; border: 0; outline: 0; }}
    QListView#pages {{ background: {theme.strip}; }}
    QListView#remedies {{ background: {theme.panel}; }}
    QPushButton, QToolButton {{ background: {theme.field}; border: 1px solid {theme.edge};
        border-radius: 5px; padding: 5px 12px; min-height: 18px; }}
    QPushButton:hover, QToolButton:hover {{ background: {theme.chosen}; }}
    QPushButton:checked {{ background: {theme.text}; color: {theme.bar};
        border-color: {theme.text}; }}
    QPushButton:disabled {{ color: {theme.quiet}; border: 1px solid {theme.rule};
        background: {theme.panel}; }}
    QPushButton:focus, QToolButton:focus {{ border: 2px solid {theme.accent};
        padding: 4px 11px; }}
    QFileDialog QToolButton {{ padding: 3px; min-height: 0; }}
    QFileDialog QToolButton:focus {{ padding: 2px; }}
    QPushButton[main="true"] {{ background: {theme.accent}; color: {theme.on_accent};
        border-color: {theme.accent}; font-weight: bold; }}
    QPushButton[main="true"]:disabled {{ background: {theme.panel}; color: {theme.quiet};
        border: 1px solid {theme.rule}; font-weight: normal; }}
    QPushButton[main="true"]:focus {{ border: 2px solid {theme.text}; }}
    QPushButton[flat="true"] {{ background: transparent; border: 1px solid transparent;
        padding: 4px 8px; }}
    QPushButton[flat="true"]:checked {{ background: {theme.chosen}; color: {theme.text};
        border: 1px solid {theme.edge}; }}
    QPushButton[flat="true"]:focus {{ border: 2px solid {theme.accent}; padding: 3px 7px; }}
    QPushButton[desk="true"] {{ background: transparent; border: 0; border-radius: 0;
        font-weight: bold;
        border-bottom: 3px solid transparent; padding: 9px 12px 8px 12px; }}
    QPushButton[desk="true"]:checked {{ color: {theme.text};
        border-bottom: 3px solid {theme.accent}; }}
    QPushButton[desk="true"]:focus {{ border: 2px solid {theme.accent}; padding: 7px 10px; }}
    QPushButton[copies="true"] {{ background: transparent; border: 1px solid transparent;
        text-align: left; padding: 1px 4px; min-height: 15px; color: {theme.quiet}; }}
    QPushButton[copies="true"]:hover {{ background: {theme.chosen}; color: {theme.text}; }}
    QPushButton[copies="true"]:focus {{ border: 2px solid {theme.accent}; padding: 0px 3px; }}
    QPushButton[tight="true"] {{ padding: 5px 8px; }}
    QPushButton[tight="true"]:focus {{ padding: 4px 7px; }}
    QPushButton[desk="true"][tight="true"] {{ padding: 9px 7px 8px 7px; }}
    QPushButton[desk="true"][tight="true"]:focus {{ padding: 7px 5px; }}
    QLineEdit {{ background: {theme.field}; border: 1px solid {theme.edge}; border-radius: 5px;
        padding: 4px 8px; selection-background-color: {theme.accent};
        selection-color: {theme.on_accent}; }}
    QLineEdit {{ placeholder-text-color: {theme.quiet}; }}
    QLineEdit:focus {{ border: 2px solid {theme.accent}; padding: 3px 7px; }}
    QCheckBox {{ spacing: 8px; padding: 2px; border: 2px solid transparent; }}
    QCheckBox:focus {{ border: 2px solid {theme.accent}; border-radius: 4px; }}
    QRadioButton {{ spacing: 8px; padding: 2px; border: 2px solid transparent; }}
    QRadioButton:focus {{ border: 2px solid {theme.accent}; border-radius: 4px; }}
    QRadioButton::indicator {{ width: 12px; height: 12px; border: 1px solid {theme.edge};
        border-radius: 7px; background: {theme.field}; }}
    QRadioButton::indicator:checked {{ border: 4px solid {theme.accent}; width: 6px;
        height: 6px; }}
    QCheckBox::indicator {{ width: 14px; height: 14px; border: 1px solid {theme.edge};
        border-radius: 3px; background: {theme.field}; }}
    QCheckBox::indicator:checked {{ background: {theme.accent}; border-color: {theme.accent};
        image: url({marks}/tick-{theme.name}.svg); }}
    QAbstractSpinBox {{ background: {theme.field}; border: 1px solid {theme.edge};
        border-radius: 4px; padding: 3px 18px 3px 6px; selection-color: {theme.on_accent};
        selection-background-color: {theme.accent}; }}
    QAbstractSpinBox:focus {{ border: 2px solid {theme.accent}; padding: 2px 17px 2px 5px; }}
    QAbstractSpinBox::up-button, QAbstractSpinBox::down-button {{ border: 0; width: 16px; }}
    QAbstractSpinBox::up-arrow {{ image: url({marks}/up-{theme.name}.svg); width: 9px; }}
    QAbstractSpinBox::down-arrow {{ image: url({marks}/down-{theme.name}.svg); width: 9px; }}
    QTableWidget {{ background: {theme.sheet}; border: 1px solid {theme.rule};
        selection-background-color: {theme.chosen}; selection-color: {theme.text}; }}
    QTableWidget:focus {{ border: 2px solid {theme.accent}; }}
    QComboBox {{ background: {theme.field}; border: 1px solid {theme.edge}; border-radius: 5px;
        padding: 3px 8px; }}
    QComboBox::drop-down {{ border: 0; width: 22px; }}
    QComboBox::down-arrow {{ image: url({marks}/down-{theme.name}.svg); width: 9px; }}
    QComboBox:focus {{ border: 2px solid {theme.accent}; padding: 2px 7px; }}
    QDialogButtonBox {{ dialogbuttonbox-buttons-have-icons: 0; }}
    QMenu {{ background: {theme.field}; border: 1px solid {theme.edge}; padding: 4px; }}
    QMenu::item {{ padding: 5px 24px 5px 24px; }}
    QMenu::item:selected {{ background: {theme.accent}; color: {theme.on_accent}; }}
    QMenu::item:disabled {{ color: {theme.quiet}; }}
    QMenu::separator {{ height: 1px; background: {theme.rule}; margin: 4px 8px; }}
    QProgressBar {{ background: {theme.track}; border: 1px solid {theme.edge}; border-radius: 3px;
        max-height: 8px; }}
    QProgressBar::chunk {{ background: {theme.accent}; }}
    QScrollBar {{ background: transparent; border: 0; }}
    QScrollBar:vertical {{ width: 11px; }}
    QScrollBar:horizontal {{ height: 11px; }}
    QScrollBar::handle {{ background: {theme.edge}; border-radius: 4px; margin: 2px;
        min-height: 24px; min-width: 24px; }}
    QScrollBar::add-line, QScrollBar::sub-line {{ width: 0; height: 0; }}
    QSplitter::handle {{ background: {theme.rule}; }}
    """
