"""The Report desk: the whole review or audit on one screen, and its way to every pair."""

from __future__ import annotations

import os
from collections.abc import Sequence
from pathlib import Path

from PySide6.QtCore import Qt, QTimer, Signal
from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import (
    QDialog,
    QFileDialog,
    QFrame,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QScrollArea,
    QSplitter,
    QStackedLayout,
    QVBoxLayout,
    QWidget,
)

from high_pair.app.controller import Controller
from high_pair.app.copies import ALL_FILES, file_filter, folder_for
from high_pair.app.elided_label import ElidedLabel
from high_pair.app.report.ladders import Ladders
from high_pair.app.report.lists import (
    HEADINGS,
    LINE_HEIGHT,
    MARGIN,
    NOWHERE,
    NUMBER_WIDTH,
    CriterionDelegate,
    FileDelegate,
    OriginDelegate,
    ReportList,
    criterion_words,
    file_words,
    origin_words,
)
from high_pair.app.report.source import Source
from high_pair.app.report.trend_box import TrendBox
from high_pair.app.report.write_dialog import WriteDialog
from high_pair.app.rows import plural
from high_pair.app.theme import SMALL_PIXELS, Theme, font
from high_pair.review.listing import Kept
from high_pair.review.overview import CriterionCounts, FileCounts, OriginCounts, Overview
from high_pair.wcag.verdicts import Verdict

STORES = file_filter("Audits and reports", (".sqlite", ".db", ".json"))
REFRESH_MILLISECONDS = 300
NARROW = 900
# Below this height the desk scrolls.
LEAST_HEIGHT = 560
NOTHING = (
    "Open files, or the store of an audit, to see all that falls short: by criterion, by file, "
    "and by where it is decided."
)


class ReportDesk(QWidget):
    """The desk.

    pairs_asked: pairs are to be shown on the Review desk: which (a `Kept`, or None for all), the
    path of the file they are in or an empty one, and their verdict; told: words for the status.
    """

    pairs_asked = Signal(object, str, object)
    told = Signal(str)
    changed = Signal()

    def __init__(self, controller: Controller, theme: Theme) -> None:
        super().__init__()
        self.controller = controller
        self.source = Source(controller)
        self.folder: Path | None = None
        self.ladders = Ladders(theme)
        self.origin_delegate = OriginDelegate(theme)
        self.file_delegate = FileDelegate(theme)
        self.origins: ReportList[OriginCounts] = ReportList(
            "Where it is decided", origin_words, self.origin_delegate
        )
        self.criteria: ReportList[CriterionCounts] = ReportList(
            "By criterion", criterion_words, CriterionDelegate(theme)
        )
        self.files: ReportList[FileCounts] = ReportList("By file", file_words, self.file_delegate)
        self.trend = TrendBox(theme)
        self.heading = _heading()
        self.about = ElidedLabel(Qt.AlignmentFlag.AlignLeft)
        self.about.setProperty("quiet", True)
        self.work, self.files_left = QLabel(), QLabel()
        self.work.setWordWrap(True)
        self.review_button = _button("This review", checkable=True)
        self.audit_button = _button("An audit…", checkable=True)
        self.compare_button = _button("Compare with an audit…")
        self.write_button = _button("Write out…")
        self.go_button = QPushButton("Go through them")
        self.go_button.setProperty("main", True)
        self.open_audit = QPushButton("Open an audit…")
        self.whole, self.nothing = QWidget(), QWidget()
        self._lay_out()
        self._connect()
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.setInterval(REFRESH_MILLISECONDS)
        self._soon.timeout.connect(self._add_up)
        self._show()

    # Building

    def _lay_out(self) -> None:
        column = QVBoxLayout(self.whole)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self._top())
        self.across = QSplitter(Qt.Orientation.Horizontal)
        self.across.addWidget(self._left())
        self.across.addWidget(self._right())
        self.across.setChildrenCollapsible(False)
        self.across.setHandleWidth(3)
        self.across.setSizes([630, 650])
        column.addWidget(self.across, 1)
        self.whole.setMinimumHeight(LEAST_HEIGHT)
        self.area = QScrollArea()
        self.area.setWidget(self.whole)
        self.area.setWidgetResizable(True)
        self.area.setFrameShape(QFrame.Shape.NoFrame)
        self.area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        inside = QVBoxLayout(self.nothing)
        inside.addStretch(1)
        words = QLabel(NOTHING)
        words.setWordWrap(True)
        words.setMaximumWidth(460)
        inside.addWidget(words, 0, Qt.AlignmentFlag.AlignHCenter)
        inside.addWidget(self.open_audit, 0, Qt.AlignmentFlag.AlignHCenter)
        inside.addStretch(1)
        self.stack = QStackedLayout(self)
        self.stack.addWidget(self.area)
        self.stack.addWidget(self.nothing)

    def _top(self) -> QWidget:
        top = QFrame()
        top.setObjectName("sheet")
        column = QVBoxLayout(top)
        column.setContentsMargins(14, 8, 14, 6)
        column.setSpacing(4)
        row = QHBoxLayout()
        row.setSpacing(8)
        row.addWidget(self.heading)
        row.addWidget(self.about, 1)
        for button in (self.review_button, self.audit_button, self.write_button):
            row.addWidget(button)
        column.addLayout(row)
        column.addWidget(self.ladders)
        return top

    def _left(self) -> QWidget:
        left, column = _sheet()
        column.addWidget(_heading("Where it is decided", margins=True))
        column.addWidget(self.origins, 1)
        column.addWidget(self.trend)
        left.setMinimumWidth(280)
        return left

    def _right(self) -> QWidget:
        right, column = _sheet()
        head = QHBoxLayout()
        head.setContentsMargins(0, 0, MARGIN, 0)
        head.setSpacing(0)
        head.addWidget(_heading("By criterion", margins=True), 1)
        for words in HEADINGS:
            label = QLabel(words)
            label.setProperty("quiet", True)
            label.setFont(font(SMALL_PIXELS))
            label.setFixedWidth(NUMBER_WIDTH)
            label.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
            head.addWidget(label)
        column.addLayout(head)
        column.addWidget(self.criteria)
        column.addWidget(_heading("By file", margins=True))
        column.addWidget(self.files, 1)
        self.files_left.setContentsMargins(MARGIN, 4, MARGIN, 0)
        self.files_left.setProperty("quiet", True)
        column.addWidget(self.files_left)
        self.work.setContentsMargins(MARGIN, 8, MARGIN, 0)
        column.addWidget(self.work)
        row = QHBoxLayout()
        row.setContentsMargins(MARGIN, 8, MARGIN, 10)
        row.setSpacing(8)
        row.addWidget(self.go_button)
        row.addWidget(self.compare_button)
        row.addStretch(1)
        column.addLayout(row)
        right.setMinimumWidth(280)
        return right

    def _connect(self) -> None:
        self.ladders.shares_asked.connect(self._ask_shares)
        self.origins.asked.connect(self._ask_origin)
        self.criteria.asked.connect(self._ask_criterion)
        self.files.asked.connect(self._ask_file)
        self.go_button.clicked.connect(self.go_through)
        self.compare_button.clicked.connect(self.ask_compare)
        self.write_button.clicked.connect(self.ask_write)
        self.review_button.clicked.connect(self._choose_review)
        self.audit_button.clicked.connect(self.ask_audit)
        self.open_audit.clicked.connect(self.ask_audit)
        self.source.changed.connect(self._show)
        self.source.written.connect(self.told)
        for signal in (self.controller.pages_changed, self.controller.page_measured,
                       self.controller.document_changed):  # fmt: skip
            signal.connect(lambda *_: self.refresh_soon())

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Put the halves one above the other in a small window, or at a large scale."""
        super().resizeEvent(event)
        narrow = self.width() < NARROW
        wanted = Qt.Orientation.Vertical if narrow else Qt.Orientation.Horizontal
        if self.across.orientation() is not wanted:
            self.across.setOrientation(wanted)
            self.across.setSizes([1, 1])
            self.whole.setMinimumHeight(2 * LEAST_HEIGHT if narrow else LEAST_HEIGHT)

    # Showing

    def refresh_soon(self) -> None:
        """Add up anew before long, if the desk is looked at."""
        if self.isVisible() and self.source.is_review and not self._soon.isActive():
            self._soon.start()

    def _add_up(self) -> None:
        if self.source.is_review:
            self.source.refresh()

    def show_now(self) -> None:
        """Show what there is, added up anew."""
        self.source.refresh()

    def _show(self) -> None:
        overview = self.source.overview
        self.stack.setCurrentWidget(self.nothing if overview is None else self.area)
        self.review_button.setChecked(self.source.is_review)
        self.audit_button.setChecked(not self.source.is_review)
        if overview is not None:
            self._show_overview(overview)
        self.changed.emit()

    def _show_overview(self, overview: Overview) -> None:
        pairs = overview.summary.pairs
        self.heading.setText(f"All {pairs:,} pairs on one ladder")
        self.about.setText(
            f"{self.source.title} · each tick is pairs of one share of what is asked"
        )
        self.ladders.show_ticks(
            overview.ladder, overview.ladder_before if overview.before else None
        )
        for delegate in (self.origin_delegate, self.file_delegate):
            delegate.compares = overview.before
        most = (max(each.now, each.before if overview.before else 0) for each in overview.origins)
        self.origin_delegate.most = max(most, default=1)
        self.file_delegate.folder = _folder_of([each.path for each in overview.files])
        self.origins.show_rows(overview.origins)
        self.criteria.show_rows(overview.criteria)
        self.criteria.setFixedHeight(max(1, len(overview.criteria)) * LINE_HEIGHT + 2)
        self.files.show_rows(overview.files)
        self.files_left.setText(f"and {overview.files_left:,} files more, which CSV and JSON have")
        self.files_left.setVisible(overview.files_left > 0)
        self.trend.show_overview(overview)
        self.work.setText(self._work_words(overview))
        self.go_button.setEnabled(overview.work_left > 0)
        for each in (self.origins, self.files, self.criteria):
            each.viewport().update()

    def _work_words(self, overview: Overview) -> str:
        eyes, renew = overview.summary.number(Verdict.NEEDS_EYES), len(overview.renew)
        aside = overview.summary.number(Verdict.SET_ASIDE)
        work = f"{eyes:,} need eyes" if eyes != 1 else "1 needs eyes"
        if renew:
            work += f", {plural(renew, 'decision')} to renew"
        words = f"Work left for a person: {work}." if overview.work_left else "Nothing needs eyes."
        if aside:
            reasons = "; ".join(f"{each.reason}: {each.places:,}" for each in overview.aside[:3])
            words += f" Set aside: {aside:,} ({reasons})."
        if overview.summary.unread:
            words += f" {plural(overview.summary.unread, 'file')} couldn’t be read."
        return words

    @property
    def status(self) -> str:
        """Words for the status line."""
        if self.source.under_way:
            return self.source.under_way
        overview = self.source.overview
        if overview is None:
            return ""
        summary = overview.summary
        words = f"{plural(summary.files, 'file')}, {summary.pairs:,} pairs; "
        words += f"{summary.number(Verdict.FALLS_SHORT):,} fall short"
        return words + (f", {overview.short_before:,} before" if overview.before else "")

    # Asking

    def _choose_review(self) -> None:
        self.source.show_review()

    def ask_audit(self) -> None:
        """Ask for the store of an audit, or a report in JSON, to show."""
        self.audit_button.setChecked(not self.source.is_review)
        path = self._ask_store("Show an audit")
        if path is not None:
            self.source.show_file(path)

    def ask_compare(self) -> None:
        """Ask for another audit to hold this against."""
        path = self._ask_store("Compare with an audit")
        if path is not None:
            self.source.compare_with(path)

    def _ask_store(self, title: str) -> Path | None:
        name, _ = QFileDialog.getOpenFileName(
            self, title, str(self._usual_folder()), ";;".join((STORES, ALL_FILES))
        )
        return Path(name) if name else None

    def _usual_folder(self) -> Path:
        if self.folder is not None and self.folder.is_dir():
            return self.folder
        if self.source.path is not None:
            return self.source.path.resolve().parent
        files = list(self.controller.session.files.values())
        return folder_for(files[0]) if files else Path.home()

    def ask_write(self) -> None:
        """Ask in which forms it is written out, and write them."""
        if self.source.overview is None:
            return
        dialog = WriteDialog(self.source.title, self._usual_folder(), self)
        if dialog.exec() == QDialog.DialogCode.Accepted:
            self.folder = Path(dialog.folder.text())
            self.source.write_out(dialog.wanted)

    def go_through(self) -> None:
        """Show what needs eyes on the Review desk; else what is to be decided again."""
        overview = self.source.overview
        if overview is None:
            return
        if overview.eyes:
            self.pairs_asked.emit(None, self._path_of(overview.eyes[0].named[0].path),
                                  Verdict.NEEDS_EYES)  # fmt: skip
        elif overview.renew:
            self.pairs_asked.emit(None, self._path_of(overview.renew[0].path),
                                  Verdict.FALLS_SHORT)  # fmt: skip

    def _path_of(self, path: str) -> str:
        """Give the path to open for what is asked; none where all of it is open anyway."""
        return "" if self.source.is_review else path

    def _ask(self, kept: Kept, verdict: Verdict) -> None:
        self.source.find_path(kept, lambda path: self.pairs_asked.emit(kept, path, verdict))

    def _ask_origin(self, row: OriginCounts) -> None:
        self._ask(Kept(row.origin or NOWHERE, origin=row.origin), Verdict.FALLS_SHORT)

    def _ask_criterion(self, row: CriterionCounts) -> None:
        short = row.counts.get(Verdict.FALLS_SHORT, 0)
        verdict = Verdict.FALLS_SHORT if short else Verdict.PASSES
        self._ask(Kept(row.number, criterion=row.number), verdict)

    def _ask_file(self, row: FileCounts) -> None:
        verdict = Verdict.FALLS_SHORT if row.short or not row.eyes else Verdict.NEEDS_EYES
        self.pairs_asked.emit(None, row.path, verdict)

    def _ask_shares(self, least: float, most: float, words: str) -> None:
        verdict = Verdict.FALLS_SHORT if least < 1.0 else Verdict.PASSES
        self._ask(Kept(words.partition(" with ")[2] or words, shares=(least, most)), verdict)


def _folder_of(paths: Sequence[str]) -> str:
    """Give the folder that paths have in common, with its last sign; empty for none."""
    heads = {path.rpartition("/")[0] for path in paths}
    if not heads or "" in heads:
        return ""
    try:
        return f"{os.path.commonpath(heads)}/"
    except ValueError:
        return ""


def _sheet() -> tuple[QFrame, QVBoxLayout]:
    """Make a half of the desk, and its column."""
    sheet = QFrame()
    sheet.setObjectName("sheet")
    column = QVBoxLayout(sheet)
    column.setContentsMargins(0, 0, 0, 0)
    column.setSpacing(0)
    return sheet, column


def _heading(words: str = "", margins: bool = False) -> QLabel:
    label = QLabel(words)
    label.setFont(font(15, bold=True))
    if margins:
        label.setContentsMargins(MARGIN, 10, MARGIN, 6)
    return label


def _button(words: str, checkable: bool = False) -> QPushButton:
    button = QPushButton(words)
    button.setCheckable(checkable)
    return button
