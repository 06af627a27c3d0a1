"""The page as painted, with the pair at hand marked."""

from __future__ import annotations

from dataclasses import dataclass

from PySide6.QtCore import QPoint, QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import (
    QFocusEvent,
    QImage,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPen,
    QPolygonF,
    QResizeEvent,
    QWheelEvent,
)
from PySide6.QtWidgets import QFrame, QScrollArea, QWidget

from high_pair.app.fitting.live import LivePage
from high_pair.app.live import Live
from high_pair.app.theme import SMALL_PIXELS, Theme, colour, font
from high_pair.scene.overlay import Overlay

MARGIN = 28
SMALLEST_ZOOM, LARGEST_ZOOM = 0.1, 6.0
ZOOM_STEP = 1.25
PIXELS_A_POINT = 96 / 72
WIDEST_IMAGE = 4096
# A widget can be no larger than this many units.
LONGEST_CANVAS = 16_000_000
# A sheet that would be shown smaller than this is shown at its own size.
LEAST_FOR_SHEETS = 0.8
# Web pages are wide, and their text is large enough.
LEAST_FOR_PAGES = 0.4
# A drag no longer than this is a click.
SLIP = 5.0
# A handle is taken hold of from so near, in window units.
REACH = 12.0
# What is held when the line between before and after is; and by how much a key moves it.
WIPE, WIPE_STEP = "wipe", 0.02


@dataclass(frozen=True)
class Marked:
    """What is marked on the page: the text's ink, and the weakest word (None when solid)."""

    box: tuple[float, float, float, float]
    weakest: tuple[float, float, float, float] | None = None


ARROWS = {
    Qt.Key.Key_Left: (-1, 0),
    Qt.Key.Key_Right: (1, 0),
    Qt.Key.Key_Up: (0, -1),
    Qt.Key.Key_Down: (0, 1),
}


class _Canvas(QWidget):
    """Paints the page image, the corner ticks, and the pin at the weakest word."""

    clicked = Signal(float, float)
    boxed = Signal(float, float, float, float)
    fitted = Signal(object)

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.live: Live | None = None
        self.held = ""
        # The share of the page, from the left, that shows it as the file has it.
        self.wipe: float | None = None
        self.takes_boxes = False
        self._pressed: QPointF | None = None
        self._at = QPointF()
        # The part of the page, in points, that the images show; None for the whole.
        self.part: QRectF | None = None
        self.image = QImage()
        self.before = QImage()
        self.page_size = (0.0, 0.0)
        self.marked: Marked | None = None
        self.caption = ""
        self.stripes = QImage()
        # The page as it is seen from a seat, null for as authored, which a held key shows.
        self.seen = QImage()
        self.showing_before = self.showing_authored = False
        self.focused = False
        self.zoom = 1.0
        self.setAccessibleName("The page as painted")

    @property
    def page_box(self) -> QRectF:
        """Give the page's place in the widget."""
        width = self.page_size[0] * self.zoom * PIXELS_A_POINT
        height = self.page_size[1] * self.zoom * PIXELS_A_POINT
        return QRectF(
            max(0.0, (self.width() - width) / 2),
            max(0.0, (self.height() - height) / 2),
            width,
            height,
        )

    @property
    def image_box(self) -> QRectF:
        """Give the place of the images in the widget."""
        if self.part is None:
            return self.page_box
        part = self.part
        return self.to_widget(self.page_box, (part.x(), part.y(), part.width(), part.height()))

    def paintEvent(self, _event: object) -> None:
        """Paint everything."""
        painter = QPainter(self)
        painter.fillRect(self.rect(), colour(self.theme.surround))
        if self.page_size[0] <= 0:
            painter.end()
            return
        box = self.page_box
        before = self.showing_before and not self.before.isNull()
        there = not self.seen.isNull() and not self.showing_authored
        shown = self.before if before else self.seen if there else self.image
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        if self.live is not None and not before:
            self.live.paint(painter, box, self.zoom * PIXELS_A_POINT)
        elif shown.isNull():
            painter.fillRect(box, colour(self.theme.track))
        else:
            painter.drawImage(self.image_box, shown)
        self._paint_wipe(painter, box)
        if not self.stripes.isNull() and not self.showing_before:
            painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, False)
            painter.drawImage(box, self.stripes)
        painter.setPen(QPen(colour(self.theme.surround_text), 1))
        painter.drawRect(box.adjusted(-0.5, -0.5, 0.5, 0.5))
        if self.live is not None and not before:
            factor = self.zoom * PIXELS_A_POINT
            self.live.paint_marks(painter, box, factor, self.held)
        elif self.marked is not None:
            self._paint_ticks(painter, box, self.marked)
        self._paint_caption(painter, box)
        drawn = self._drawn_box()
        if drawn is not None:
            for pen in self._double_pens(4.0, 1.6):
                painter.setPen(pen)
                painter.drawRect(drawn)
        if self.focused:
            painter.setPen(QPen(colour(self.theme.surround_text), 2, Qt.PenStyle.DashLine))
            painter.drawRect(self.visibleRegion().boundingRect().adjusted(2, 2, -2, -2))
        painter.end()

    def _paint_wipe(self, painter: QPainter, box: QRectF) -> None:
        if self.wipe is None or self.before.isNull():
            return
        line = box.left() + self.wipe * box.width()
        painter.save()
        painter.setClipRect(QRectF(box.left(), box.top(), line - box.left(), box.height()))
        painter.drawImage(self.image_box, self.before)
        painter.setClipping(False)
        for pen in self._double_pens(5.0, 2.0):
            painter.setPen(pen)
            painter.drawLine(QPointF(line, box.top()), QPointF(line, box.bottom()))
        painter.restore()

    def move_wipe(self, share: float) -> None:
        """Move the line between before and after."""
        self.wipe = min(1.0, max(0.0, share))
        self.update()

    def to_widget(self, box: QRectF, part: tuple[float, float, float, float]) -> QRectF:
        """Give the place of a part of the page, whose own place is `box`."""
        factor = self.zoom * PIXELS_A_POINT
        x, y, width, height = part
        return QRectF(box.x() + x * factor, box.y() + y * factor, width * factor, height * factor)

    def _paint_ticks(self, painter: QPainter, box: QRectF, marked: Marked) -> None:
        """Paint corners in a double line, dark within light, which shows on any picture."""
        area = self.to_widget(box, marked.box).adjusted(-10, -8, 10, 8)
        reach = min(18.0, area.width() / 3, area.height() / 2 + 4)
        corners = (
            (area.topLeft(), 1, 1),
            (area.topRight(), -1, 1),
            (area.bottomLeft(), 1, -1),
            (area.bottomRight(), -1, -1),
        )
        for pen in self._double_pens(6.0, 2.5):
            painter.setPen(pen)
            for corner, right, down in corners:
                painter.drawPolyline(
                    [
                        corner + QPointF(0, down * reach),
                        corner,
                        corner + QPointF(right * reach, 0),
                    ]
                )
        if marked.weakest is not None:
            word = self.to_widget(box, marked.weakest)
            for pen in self._double_pens(5.0, 2.0):
                painter.setPen(pen)
                below = word.bottomLeft() + QPointF(0, 3)
                painter.drawLine(below, word.bottomRight() + QPointF(0, 3))
            tip = QPointF(word.center().x(), word.bottom() + 6)
            painter.setPen(QPen(Qt.GlobalColor.white, 1.5))
            painter.setBrush(Qt.GlobalColor.black)
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            painter.drawPolygon(QPolygonF([tip, tip + QPointF(-7, 10), tip + QPointF(7, 10)]))

    def _double_pens(self, outer: float, inner: float) -> list[QPen]:
        pens = []
        for ink, width in ((Qt.GlobalColor.white, outer), (Qt.GlobalColor.black, inner)):
            pen = QPen(ink, width)
            pen.setCapStyle(Qt.PenCapStyle.SquareCap)
            pen.setJoinStyle(Qt.PenJoinStyle.MiterJoin)
            pens.append(pen)
        return pens

    def _paint_caption(self, painter: QPainter, box: QRectF) -> None:
        words = "Before: as the file has it" if self.showing_before else self.caption
        if self.wipe is not None and not self.showing_before:
            words = f"Before, left of the line · {words}" if words else "Before, left of the line"
        if not words:
            return
        painter.setFont(font(SMALL_PIXELS, bold=True))
        painter.setPen(colour(self.theme.surround_text))
        place = QRectF(max(6.0, box.x()), max(0.0, box.y() - 22), max(box.width(), 200.0), 20)
        painter.drawText(place, Qt.AlignmentFlag.AlignVCenter, words)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Tell where on the page the user clicked, in points."""
        box = self.page_box
        point = event.position()
        if event.button() == Qt.MouseButton.LeftButton and self._hold(point):
            return
        if self.wipe is not None and abs(point.x() - box.left() - self.wipe * box.width()) <= REACH:
            self.held = WIPE
            return
        if event.button() == Qt.MouseButton.LeftButton and box.contains(point):
            self.clicked.emit(*self._to_page(point))
            if self.takes_boxes:
                self._pressed = self._at = point

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """Move the handle that is held, or draw a box where the page takes one."""
        if self.held == WIPE:
            box = self.page_box
            self.move_wipe((event.position().x() - box.left()) / max(1.0, box.width()))
            return
        if self.live is not None and self.held:
            self.fitted.emit(self.live.drag(self.held, *self._to_page(event.position())))
            self.update()
            return
        if self._pressed is not None:
            box = self.page_box
            point = event.position()
            x = min(max(point.x(), box.left()), box.right())
            self._at = QPointF(x, min(max(point.y(), box.top()), box.bottom()))
            self.update()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        """Let go of a handle, or tell the box that was drawn, in points."""
        if self.held:
            self.held = ""
            self.update()
            return
        drawn = self._drawn_box()
        if event.button() == Qt.MouseButton.LeftButton:
            self._pressed = None
            self.update()
        if drawn is not None:
            x, y = self._to_page(drawn.topLeft())
            right, bottom = self._to_page(drawn.bottomRight())
            self.boxed.emit(x, y, right - x, bottom - y)

    def _hold(self, point: QPointF) -> bool:
        """Take hold of the overlay's handle at a point, if there is one."""
        if self.live is None:
            return False
        factor = self.zoom * PIXELS_A_POINT
        self.held = self.live.hold(*self._to_page(point), REACH / factor)
        return bool(self.held)

    def _to_page(self, point: QPointF) -> tuple[float, float]:
        box, factor = self.page_box, self.zoom * PIXELS_A_POINT
        return (point.x() - box.x()) / factor, (point.y() - box.y()) / factor

    def _drawn_box(self) -> QRectF | None:
        """Give the box that is being drawn; a click that slips is none."""
        if self._pressed is None:
            return None
        drawn = QRectF(self._pressed, self._at).normalized()
        return drawn if max(drawn.width(), drawn.height()) > SLIP else None


class PageView(QScrollArea):
    """The page with zoom and fit.

    clicked: where on the page, in points; boxed: a box drawn on it, x, y, width
    and height in points, where it takes boxes; fitted: what was moved by hand, as it is then;
    image_wanted: the width in device pixels at which the page should be painted;
    zoom_changed: the zoom, and whether it is the one that fits.
    """

    clicked = Signal(float, float)
    boxed = Signal(float, float, float, float)
    fitted = Signal(object)
    image_wanted = Signal(int)
    zoom_changed = Signal(float, bool)

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setWidgetResizable(False)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Page")
        self.canvas = _Canvas(theme)
        self.canvas.clicked.connect(self.clicked)
        self.canvas.boxed.connect(self.boxed)
        self.canvas.fitted.connect(self.fitted)
        self.setWidget(self.canvas)
        self.dress(theme)
        self.setMinimumSize(180, 110)
        self.fits = True
        # A sheet was opened at its own size, in place of the whole page.
        self._opened_whole = False
        self._least = LEAST_FOR_SHEETS
        # A page is shown as wide as the view, as long as nobody zooms.
        self._reads = False
        self._part: QRectF | None = None
        self._part_zoom = 0.0
        self._wanted_width = 0
        self.horizontalScrollBar().valueChanged.connect(self._scrolled)
        self.verticalScrollBar().valueChanged.connect(self._scrolled)

    def dress(self, theme: Theme) -> None:
        """Take a theme's colours."""
        self.canvas.theme = theme
        self.setStyleSheet(f"QScrollArea {{ background: {theme.surround}; border: 0; }}")
        self.viewport().setStyleSheet(f"background: {theme.surround};")
        self.canvas.update()

    def show_page(
        self,
        size: tuple[float, float],
        scrolls: bool = False,
        least: float = LEAST_FOR_SHEETS,
    ) -> None:
        """Show a page of a size in points; its image follows.

        scrolls: it is read by its parts, as wide as the view where its zoom is `least` then.
        """
        self._least = least
        if size != self.canvas.page_size or self._part is not None:
            self.canvas.image = QImage()
        self._part = None
        if scrolls and self.fits_at(size) < LEAST_FOR_SHEETS:
            # A whole sheet would be too small to be read.
            self.fits, self._reads = False, True
            self._opened_whole = True
            self.horizontalScrollBar().setValue(0)
            self.verticalScrollBar().setValue(0)
        elif self._opened_whole and not scrolls:
            self.fits, self._opened_whole, self._reads = True, False, False
        self.canvas.before = QImage()
        self.canvas.seen = QImage()
        self.canvas.stripes = QImage()
        self.canvas.page_size = size
        self._arrange()

    def show_image(
        self,
        image: QImage,
        caption: str = "",
        part: tuple[float, float, float, float] | None = None,
        seen: QImage | None = None,
    ) -> None:
        """Show an image of the page or a part of it, with words above it for what it is.

        seen: the same as it is seen from a seat.
        """
        self.canvas.part = QRectF(*part) if part is not None else None
        self.canvas.image, self.canvas.caption = image, caption
        self.canvas.seen = seen if seen is not None else QImage()
        self.canvas.update()

    def show_seen(self, seen: QImage, caption: str) -> None:
        """Show the same page as it is seen from another seat; the words above it, if it has any."""
        self.canvas.seen = seen
        self.show_caption(caption)

    def show_caption(self, caption: str) -> None:
        """Show other words above the page."""
        self.canvas.caption = caption
        self.canvas.update()

    def change_wipe(self) -> None:
        """Show the page as the file has it at the left of a line, or take the line away."""
        self.canvas.wipe = None if self.canvas.wipe is not None else 0.5
        self.canvas.update()

    def keep_before(self, image: QImage) -> None:
        """Keep the image of the page as the file has it, for `hold_before`."""
        self.canvas.before = image
        self.canvas.update()

    def show_stripes(self, stripes: QImage) -> None:
        """Lay stripes over the pixels that fall short; a null image takes them away."""
        self.canvas.stripes = stripes
        self.canvas.update()

    def show_live(self, live: Live | None) -> None:
        """Show the page with something that can be moved, or the page as painted again."""
        self.canvas.live = live
        self.canvas.held = ""
        self.canvas.update()

    def show_overlay(self, overlay: Overlay) -> None:
        """Show the overlay as it was changed beside the page."""
        if isinstance(self.canvas.live, LivePage):
            self.canvas.live.overlay = overlay
            self.canvas.update()

    def hold_before(self, held: bool) -> None:
        """Show the page as the file has it, as long as a key is held."""
        self.canvas.showing_before = held
        self.canvas.update()

    def hold_authored(self, held: bool) -> None:
        """Show the page as authored, and not as seen from a seat, as long as a key is held."""
        self.canvas.showing_authored = held
        self.canvas.update()

    def mark(self, marked: Marked | None) -> None:
        """Mark a text, and scroll to it when it is out of sight."""
        self.canvas.marked = marked
        if marked is not None and not self.fits:
            box = self.canvas.to_widget(self.canvas.page_box, marked.box)
            centre = box.center().toPoint()
            self.ensureVisible(centre.x(), centre.y(), 80, 60)
        self.canvas.update()

    # Zoom

    @property
    def zoom(self) -> float:
        """The zoom: 1 shows 96 pixels an inch."""
        return self.canvas.zoom

    def fit(self) -> None:
        """Show the whole page, whatever the view's size."""
        self.fits, self._reads = True, False
        self._arrange()

    def zoom_to(self, zoom: float) -> None:
        """Show the page at a zoom."""
        self.fits = self._reads = False
        side = max(*self.canvas.page_size, 1.0) * PIXELS_A_POINT
        most = min(LARGEST_ZOOM, LONGEST_CANVAS / side)
        self.canvas.zoom = min(most, max(min(SMALLEST_ZOOM, most), zoom))
        self._arrange()

    def zoom_by(self, steps: int) -> None:
        """Zoom in (positive) or out by steps."""
        self.zoom_to(self.zoom * ZOOM_STEP**steps)

    def _arrange(self) -> None:
        width, height = self.canvas.page_size
        room = self.viewport().size()
        if width <= 0:
            self.canvas.resize(room)
            return
        if self.fits:
            margin = min(MARGIN, room.width() // 12, room.height() // 8)
            across = (room.width() - 2 * margin) / (width * PIXELS_A_POINT)
            down = (room.height() - 2 * margin) / (height * PIXELS_A_POINT)
            self.canvas.zoom = max(0.02, min(across, down))
        elif self._reads:
            across = (room.width() - 2 * MARGIN) / (width * PIXELS_A_POINT)
            self.canvas.zoom = across if self._least <= across <= 1.0 else 1.0
        scale = self.canvas.zoom * PIXELS_A_POINT
        page = QSize(round(width * scale) + 2 * MARGIN, round(height * scale) + 2 * MARGIN)
        self.canvas.resize(room if self.fits else page.expandedTo(room))
        self.canvas.update()
        self.zoom_changed.emit(self.canvas.zoom, self.fits)
        device = scale * self.devicePixelRatioF()
        wanted = min(WIDEST_IMAGE, max(1, round(width * device)))
        if max(width, height) * device > WIDEST_IMAGE:
            self._want_part()
        elif wanted != self._wanted_width or self._part is not None:
            self._part, self._wanted_width = None, wanted
            self.image_wanted.emit(wanted)

    def fits_at(self, size: tuple[float, float]) -> float:
        """Give the zoom at which a page of a size would be seen whole."""
        room = self.viewport().size()
        return min(
            room.width() / (max(size[0], 1.0) * PIXELS_A_POINT),
            room.height() / (max(size[1], 1.0) * PIXELS_A_POINT),
        )

    def _scrolled(self, _value: int) -> None:
        if self._part is not None:
            self._want_part()

    def _want_part(self) -> None:
        """Ask for the part of a large page that is seen, with room round it for scrolling."""
        factor = self.canvas.zoom * PIXELS_A_POINT
        box = self.canvas.page_box
        seen = QRectF(
            (self.horizontalScrollBar().value() - box.x()) / factor,
            (self.verticalScrollBar().value() - box.y()) / factor,
            self.viewport().width() / factor,
            self.viewport().height() / factor,
        )
        page = QRectF(0.0, 0.0, *self.canvas.page_size)
        seen = seen.intersected(page)
        drawn = self.canvas.part
        same = self._part is not None and self._part_zoom == factor and drawn is not None
        if same and self._part is not None and self._part.contains(seen):
            return
        across, down = seen.width() / 2, seen.height() / 2
        self._part = seen.adjusted(-across, -down, across, down).intersected(page)
        self._part_zoom = factor
        self.image_wanted.emit(0)

    @property
    def wanted_part(self) -> tuple[tuple[float, float, float, float], tuple[int, int]]:
        """The part of the page to be painted now, in points, and its size in device pixels."""
        width, height = self.canvas.page_size
        part = self._part
        if part is None:
            pixels = max(1, self._wanted_width)
            whole = (0.0, 0.0, width, height)
            return whole, (pixels, max(1, round(pixels * height / max(width, 1e-6))))
        factor = self.canvas.zoom * PIXELS_A_POINT * self.devicePixelRatioF()
        size = (max(1, round(part.width() * factor)), max(1, round(part.height() * factor)))
        return (part.x(), part.y(), part.width(), part.height()), size

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Fit anew."""
        super().resizeEvent(event)
        self._arrange()

    def wheelEvent(self, event: QWheelEvent) -> None:
        """Zoom with Ctrl, scroll without."""
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self.zoom_by(1 if event.angleDelta().y() > 0 else -1)
            event.accept()
        else:
            super().wheelEvent(event)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Scroll with the arrow keys, move the line between before and after, or what is fitted."""
        way = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()))
        if self.canvas.wipe is not None and way is not None:
            self.canvas.move_wipe(self.canvas.wipe + way * WIPE_STEP)
            return
        if self._nudged(event):
            return
        steps = {
            Qt.Key.Key_Left: QPoint(-40, 0),
            Qt.Key.Key_Right: QPoint(40, 0),
            Qt.Key.Key_Up: QPoint(0, -40),
            Qt.Key.Key_Down: QPoint(0, 40),
        }
        step = steps.get(Qt.Key(event.key()))
        if step is None:
            event.ignore()
            return
        across, down = self.horizontalScrollBar(), self.verticalScrollBar()
        across.setValue(across.value() + step.x())
        down.setValue(down.value() + step.y())

    def _nudged(self, event: QKeyEvent) -> bool:
        """Move what is fitted by hand with an arrow key, by ten with Shift."""
        way = ARROWS.get(Qt.Key(event.key()))
        if self.canvas.live is None or way is None:
            return False
        step = 10 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1
        found = self.canvas.live.nudge(way[0] * step, way[1] * step)
        if found is not None:
            self.fitted.emit(found)
            self.canvas.update()
        return found is not None

    def focusInEvent(self, event: QFocusEvent) -> None:
        """Show the focus as a frame round the view."""
        super().focusInEvent(event)
        self.canvas.focused = True
        self.canvas.update()

    def focusOutEvent(self, event: QFocusEvent) -> None:
        """Take the frame away."""
        super().focusOutEvent(event)
        self.canvas.focused = False
        self.canvas.update()
