"""The pair at hand: as it looks, its ratio, where its colour is from, and its remedies."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QPointF, QSize, Qt, QTimer, Signal
from PySide6.QtGui import QImage, QPainter, QPen
from PySide6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QFrame,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QScrollArea,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from high_pair.app.aside_button import AsideButton
from high_pair.app.box_form import BoxForm
from high_pair.app.fitting.form import FittingForm
from high_pair.app.ladder import Ladder
from high_pair.app.marks import Mark
from high_pair.app.remedy_list import CARD, RemedyList
from high_pair.app.seats.box import SeatBox
from high_pair.app.theme import Theme, colour, font
from high_pair.colour.ratio import shown_ratio
from high_pair.measure.pairs import Pair
from high_pair.remedy.remedies import AtOrigin, Proposals
from high_pair.scene.text import Decider
from high_pair.wcag.criteria import SizeClass, Subject
from high_pair.wcag.verdicts import Verdict

SAMPLE_HEIGHT = 88
NAME_WIDTH = 80
# So many texts that a remedy breaks are named, the rest counted.
LISTED = 4
CHOOSE_A_TEXT = "Choose a text in the list or on the page."
FACTS = ("Colours", "Weakest at", "Colour from", "Place", "Alike")


class Sample(QWidget):
    """The text as it really looks: a crop of the page."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.image = QImage()
        self.setFixedHeight(SAMPLE_HEIGHT)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("The text as it looks on the page")

    def show_image(self, image: QImage) -> None:
        """Show a crop."""
        self.image = image
        self.update()

    def paintEvent(self, _event: object) -> None:
        """Paint the crop and a thin frame."""
        painter = QPainter(self)
        box = self.rect().adjusted(0, 0, -1, -1)
        if self.image.isNull():
            painter.fillRect(box, colour(self.theme.track))
        else:
            painter.setClipRect(box)
            size = self.image.deviceIndependentSize()
            left = box.x() + (box.width() - size.width()) / 2
            top = box.y() + (box.height() - size.height()) / 2
            painter.drawImage(QPointF(left, top), self.image)
            painter.setClipping(False)
        painter.setPen(QPen(colour(self.theme.edge), 1))
        painter.drawRect(box)
        painter.end()


def _wrapped(words: str = "") -> QLabel:
    label = QLabel(words)
    label.setWordWrap(True)
    label.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
    label.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
    return label


def verdict_words(pair: Pair) -> str:
    """Say what the verdict means: «falls short of 3 · large-scale, 22 pt»."""
    size = f"{pair.size:.4g} pt" + (" bold" if pair.bold else "")
    scale = "large-scale" if pair.size_class is SizeClass.LARGE else "normal size"
    if pair.subject is Subject.LINK:
        scale = "link told by colour alone"
    lead = {
        Verdict.FALLS_SHORT: f"falls short of {pair.required:g}",
        Verdict.PASSES: f"passes {pair.required:g}",
    }.get(pair.verdict, pair.verdict.words)
    aim = f" · aim {pair.aim:.3g}" if pair.aim > pair.required else ""
    return f"{lead}{aim} · {scale}, {size} · {pair.criterion}"


def share_words(share: float) -> str:
    """Write a share as a percentage that is never rounded to a false 0 or 100."""
    if share >= 1:
        return "all of it"
    percent = round(share * 100)
    if percent == 0 and share > 0:
        return "under 1%"
    if percent == 100:
        return "over 99%"
    return f"{percent}%"


class PairPanel(QFrame):
    """The panel. Its signals are what the user asks for with it."""

    apply_asked = Signal()
    apply_to_alike_asked = Signal()
    place_step_asked = Signal(int)
    reach_asked = Signal(int)
    take_off_asked = Signal()

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.setObjectName("panel")
        self.setMinimumWidth(252)
        self.sample = Sample(theme)
        self.mark = Mark(theme, 22)
        self.ratio = QLabel()
        self.ratio.setFont(font(31, bold=True))
        self.verdict = _wrapped()
        self.ladder = Ladder(theme)
        self.facts: dict[str, QLabel] = {name: _wrapped() for name in FACTS}
        self._names: dict[str, QLabel] = {}
        self.box = BoxForm()
        self.seat_box = SeatBox(theme)
        self.narrow = False
        self.places = 0
        self.reaches: tuple[Decider, ...] = ()
        self.reach = QComboBox()
        self.reach.setAccessibleName("Where the remedy is to act")
        self.reach.setToolTip("Recolour this text, or the style or theme that decides its colour")
        self.reach.activated.connect(self.reach_asked)
        self.remedies_heading = QLabel("Remedies")
        self.remedies_heading.setProperty("heading", True)
        self.remedies = RemedyList(theme)
        self.none = _wrapped()
        self.fitting = FittingForm(theme)
        self.fitting.shown.connect(lambda: QTimer.singleShot(0, self._bring_chosen_to_sight))
        self.apply = QPushButton("Apply")
        self.apply.setProperty("main", True)
        self.apply.setToolTip("Apply the chosen remedy to this text (Enter)")
        self.apply.clicked.connect(self.apply_asked)
        self.one_strength = QCheckBox("One strength for all alike")
        self.one_strength.setToolTip("Else each has the least that passes in its own place")
        self.one_strength.hide()
        self.take_off = QPushButton("Take it off")
        self.take_off.setToolTip("Take the overlay away again (Delete)")
        self.take_off.clicked.connect(self.take_off_asked)
        self.apply_to_alike = QPushButton("Apply to alike")
        self.apply_to_alike.setToolTip("Apply to every alike place (Shift+Enter)")
        self.apply_to_alike.clicked.connect(self.apply_to_alike_asked)
        self.aside = AsideButton()
        self.before_place = QPushButton("‹")
        self.next_place = QPushButton("›")
        self.pair: Pair | None = None
        self._lay_out()
        self.show_nothing(CHOOSE_A_TEXT)

    def _lay_out(self) -> None:
        inside = QWidget()
        inside.setObjectName("panelInside")
        column = QVBoxLayout(inside)
        column.setContentsMargins(16, 14, 16, 10)
        column.setSpacing(8)
        column.addWidget(self.sample)
        head = QHBoxLayout()
        head.setSpacing(10)
        head.addWidget(self.mark)
        head.addWidget(self.ratio)
        head.addWidget(self.verdict, 1)
        column.addLayout(head)
        column.addWidget(self.ladder)
        column.addLayout(self._facts_rows())
        column.addWidget(self.box)
        column.addWidget(self.seat_box)
        column.addSpacing(2)
        head_of_remedies = QHBoxLayout()
        head_of_remedies.addWidget(self.remedies_heading)
        head_of_remedies.addWidget(self.reach, 1)
        column.addLayout(head_of_remedies)
        column.addWidget(self.remedies)
        column.addWidget(self.none)
        column.addStretch(1)
        scroll = self.scrolled = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setFrameShape(QFrame.Shape.NoFrame)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        scroll.setWidget(inside)
        scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        buttons = QHBoxLayout()
        buttons.setContentsMargins(16, 8, 16, 12)
        buttons.setSpacing(8)
        buttons.addWidget(self.apply)
        buttons.addWidget(self.apply_to_alike)
        buttons.addWidget(self.take_off)
        buttons.addStretch(1)
        buttons.addWidget(self.aside)
        whole = QVBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.setSpacing(0)
        whole.addWidget(scroll, 1)
        whole.addWidget(self.fitting)
        alike = QHBoxLayout()
        alike.setContentsMargins(16, 4, 16, 0)
        alike.addWidget(self.one_strength)
        whole.addLayout(alike)
        whole.addLayout(buttons)

    def _facts_rows(self) -> QVBoxLayout:
        rows = QVBoxLayout()
        rows.setSpacing(5)
        for name, label in self.facts.items():
            title = QLabel(name)
            title.setProperty("quiet", True)
            title.setFixedWidth(NAME_WIDTH)
            self._names[name] = title
            row = QHBoxLayout()
            row.setSpacing(10)
            row.addWidget(title, 0, Qt.AlignmentFlag.AlignTop)
            row.addWidget(label, 1)
            if name == "Alike":
                for button, step, words in (
                    (self.before_place, -1, "Previous alike place (Alt+Left)"),
                    (self.next_place, 1, "Next alike place (Alt+Right)"),
                ):
                    button.setProperty("flat", True)
                    button.setToolTip(words)
                    button.setAccessibleName(words)
                    button.setFixedSize(QSize(30, 26))
                    button.clicked.connect(self._stepper(step))
                    row.addWidget(button)
            rows.addLayout(row)
        return rows

    def _bring_chosen_to_sight(self) -> None:
        """Scroll to the chosen remedy, once the form below has taken its room."""
        row = self.remedies.currentIndex().row()
        if self.remedies.chosen is not None:
            centre = self.remedies.y() + row * CARD + CARD // 2
            self.scrolled.ensureVisible(0, centre, 0, CARD // 2 + 4)

    def _stepper(self, step: int) -> Callable[[], None]:
        return lambda: self.place_step_asked.emit(step)

    # Showing

    def show_nothing(self, words: str) -> None:
        """Show that no pair is at hand, and what to do."""
        self.pair = None
        self.seat_box.hide()
        self.sample.show_image(QImage())
        self.sample.hide()
        self.mark.hide()
        self.ratio.setText("")
        self.ratio.hide()
        self.verdict.setText(words)
        self.ladder.hide()
        for name in FACTS:
            self.show_fact(name, "")
        self.show_proposals(Proposals(()), 0)
        self.remedies_heading.hide()
        self.reach.hide()
        self.box.show_box(None)
        self.aside.show_pair(None, 0)

    def show_fact(self, name: str, words: str) -> None:
        """Show one of the FACTS; it is hidden while it has no words."""
        self.facts[name].setText(words)
        self.facts[name].setVisible(bool(words))
        self._names[name].setVisible(bool(words))
        if name == "Alike":
            self.before_place.setVisible(bool(words))
            self.next_place.setVisible(bool(words))

    def show_pair(self, pair: Pair, place: int, places: int, slides: str) -> None:
        """Show a pair; place: which of its alike places it is, from 1."""
        self.pair = pair
        self.aside.show_pair(pair, places)
        numbers = pair.numbers
        self.sample.show()
        self.mark.show()
        self.mark.show_verdict(pair.verdict)
        self.ratio.setText(shown_ratio(numbers.ratio) if numbers else "–")
        self.ratio.show()
        self.verdict.setText(verdict_words(pair))
        self.ladder.setVisible(numbers is not None)
        self.ladder.show_numbers(numbers, pair.required, pair.aim)
        colours = weakest = ""
        if numbers:
            on = "beside" if pair.subject is Subject.LINK else "on"
            colours = f"{numbers.foreground} {on} {numbers.background}"
            if numbers.varied:
                below = share_words(numbers.share_below)
                colours += f", varied; {below} under {pair.required:g}"
                weakest = f"“{numbers.weakest}”"
        self.show_fact("Colours", colours)
        self.show_fact("Weakest at", weakest)
        self.show_fact("Colour from", pair.origin)
        self.show_fact("Place", pair.where)
        alike = f"{place} of {places} places, {slides}" if places > 1 else ""
        self.show_fact("Alike", alike)
        falls = pair.verdict is Verdict.FALLS_SHORT
        self.remedies_heading.setVisible(falls)
        self.show_reaches(pair.deciders if falls and pair.subject is Subject.TEXT else ())
        if pair.verdict is not Verdict.FALLS_SHORT:
            self.show_proposals(Proposals((), _why_no_remedy(pair)), places)

    def show_proposals(self, proposals: Proposals, alike: int) -> None:
        """Show remedies, or why there are none."""
        self.remedies.show_remedies(proposals.remedies)
        if proposals.reaches:
            self.show_reaches(proposals.reaches)
        self.none.setText(proposals.none)
        self.none.setVisible(bool(proposals.none))
        self.apply.setVisible(bool(proposals.remedies))
        self.apply_to_alike.setVisible(bool(proposals.remedies) and alike > 1)
        self.places = alike
        self._name_alike()
        self.apply.setText("Apply")
        self.take_off.hide()
        self.one_strength.hide()
        self.remedies_heading.setText("Remedies")
        self.enable_apply(False)

    def set_narrow(self, narrow: bool) -> None:
        """Take less room, in a small window or at a large scale."""
        self.narrow = narrow
        self.fitting.set_narrow(narrow)
        self.aside.set_narrow(narrow)
        for button in (self.apply, self.apply_to_alike, self.take_off):
            button.setProperty("tight", narrow)
            button.style().unpolish(button)
            button.style().polish(button)
        self._name_alike()

    def _name_alike(self) -> None:
        lead = "To" if self.narrow else "Apply to"
        self.apply_to_alike.setText(f"{lead} {self.places} alike")

    def show_applied(self, proposals: Proposals) -> None:
        """Show the overlay that was laid for the text, to be changed or taken off."""
        self.show_proposals(proposals, 0)
        self.remedies_heading.setText("Laid behind it")
        self.remedies_heading.show()
        self.apply.setText("Change it")
        self.take_off.show()

    def show_reaches(self, reaches: tuple[Decider, ...]) -> None:
        """Offer to act where many texts have their colour, or their picture, from."""
        self.reaches = reaches
        self.reach.clear()
        self.reach.addItems(["here", *(decider.words for decider in reaches)])
        self.reach.setVisible(bool(reaches))

    def show_consequences(self, remedy: AtOrigin) -> None:
        """Say what a remedy at an origin changes, and which texts would newly fall short."""
        listed = [f"“{text}” on page {page}" for text, page in remedy.broken[:LISTED]]
        more = len(remedy.broken) - len(listed)
        words = f"{remedy.consequences} {', '.join(listed)}".strip()
        self.none.setText(words + (f" and {more} more." if more > 0 else ""))
        self.none.show()

    def show_waiting(self, keyed: int = 0) -> None:
        """Say that remedies are being looked for, and which is chosen when they are there."""
        words = f" Number {keyed} is chosen when they are there." if keyed else ""
        self.show_proposals(Proposals((), f"Looking for remedies…{words}"), 0)

    def enable_apply(self, enabled: bool) -> None:
        """Let a chosen remedy be applied."""
        self.apply.setEnabled(enabled)
        self.apply_to_alike.setEnabled(enabled)


def _why_no_remedy(pair: Pair) -> str:
    if pair.verdict is Verdict.NEEDS_EYES:
        return f"High Pair can't measure this honestly: {pair.reason}. Look at it yourself."
    if pair.verdict is Verdict.EXEMPT:
        return f"The standard asks nothing here: {pair.reason}."
    if pair.verdict is Verdict.SET_ASIDE:
        return f"A person set this aside: {pair.reason}."
    return ""
