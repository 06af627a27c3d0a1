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

from high_pair.app.fitting.handles import dragged, nearest
from high_pair.app.fitting.live import LivePage, paint_handles
from high_pair.app.theme import SMALL_PIXELS, Theme, colour, font
from high_pair.scene.overlay import Overlay

MARGIN = 28
SMALLEST_ZOOM, LARGEST_ZOOM = 0.1, 6.0
ZOOM_STEP = 1.25
PIXELS_A_POINT = 96 / 72
WIDEST_IMAGE = 4096
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


class _Canvas(QWidget):
    """Paints the page image, the corner ticks, and the pin at the weakest word."""

    clicked = Signal(float, float)
    boxed = Signal(float, float, float, float)
    fitted = Signal(object)

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.live: LivePage | None = None
        self.held = ""
        # The share of the page, from the left, that shows it as the file has it.
        self.wipe: float | None = None
        self.takes_boxes = False
        self._pressed: QPointF | None = None
        self._at = QPointF()
        self.image = QImage()
        self.before = QImage()
        self.page_size = (0.0, 0.0)
        self.marked: Marked | None = None
        self.caption = ""
        self.stripes = QImage()
        self.showing_before = False
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

    def paintEvent(self, _event: object) -> None:
        """Paint everything."""
        painter = QPainter(self)
        painter.fillRect(self.rect(), colour(self.theme.surround))
        if self.page_size[0] <= 0:
            painter.end()
            return
        box = self.page_box
        before = self.showing_before and not self.before.isNull()
        shown = self.before if before else self.image
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        if self.live is not None and not before:
            self.live.paint(painter, box, self.zoom * PIXELS_A_POINT)
        elif shown.isNull():
            painter.fillRect(box, colour(self.theme.track))
        else:
            painter.drawImage(box, shown)
        self._paint_wipe(painter, box)
        if not self.stripes.isNull() and not self.showing_before:
            painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, False)
            painter.drawImage(box, self.stripes)
        painter.setPen(QPen(colour(self.theme.surround_text), 1))
        painter.drawRect(box.adjusted(-0.5, -0.5, 0.5, 0.5))
        if self.live is not None and not before:
            factor = self.zoom * PIXELS_A_POINT
            paint_handles(painter, self.live.overlay, box, factor, self.held)
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
        painter.drawImage(box, self.before)
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
            self.live.overlay = dragged(
                self.live.overlay, self.held, *self._to_page(event.position())
            )
            self.fitted.emit(self.live.overlay)
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
        self.held = nearest(self.live.overlay, *self._to_page(point), REACH / factor)
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
    and height in points, where it takes boxes; fitted: the overlay whose handle
    was dragged; image_wanted: the width in device
    pixels at which the page should be painted; zoom_changed: the zoom, and
    whether it is the one that fits.
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
        self._wanted_width = 0

    def dress(self, theme: Theme) -> None:
        """Take a theme's colours."""
        self.canvas.theme = theme
        self.setStyleSheet(f"QScrollArea {{ background: {theme.surround}; border: 0; }}")
        self.viewport().setStyleSheet(f"background: {theme.surround};")
        self.canvas.update()

    def show_page(self, size: tuple[float, float]) -> None:
        """Show a page of a size in points; its image follows."""
        if size != self.canvas.page_size:
            self.canvas.image = QImage()
        self.canvas.before = QImage()
        self.canvas.stripes = QImage()
        self.canvas.page_size = size
        self._arrange()

    def show_image(self, image: QImage, caption: str = "") -> None:
        """Show the page's image, with words above it for what it is."""
        self.canvas.image, self.canvas.caption = image, caption
        self.canvas.update()

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

    def show_live(self, live: LivePage | None) -> None:
        """Show the page with an overlay that can be moved, or the page as painted again."""
        self.canvas.live = live
        self.canvas.held = ""
        self.canvas.update()

    def show_overlay(self, overlay: Overlay) -> None:
        """Show the overlay as it was changed beside the page."""
        if self.canvas.live is not None:
            self.canvas.live.overlay = overlay
            self.canvas.update()

    def hold_before(self, held: bool) -> None:
        """Show the page as the file has it, as long as a key is held."""
        self.canvas.showing_before = held
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
        self.fits = True
        self._arrange()

    def zoom_to(self, zoom: float) -> None:
        """Show the page at a zoom."""
        self.fits = False
        self.canvas.zoom = min(LARGEST_ZOOM, max(SMALLEST_ZOOM, zoom))
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
        scale = self.canvas.zoom * PIXELS_A_POINT
        page = QSize(round(width * scale) + 2 * MARGIN, round(height * scale) + 2 * MARGIN)
        self.canvas.resize(room if self.fits else page.expandedTo(room))
        self.canvas.update()
        self.zoom_changed.emit(self.canvas.zoom, self.fits)
        wanted = min(WIDEST_IMAGE, max(1, round(width * scale * self.devicePixelRatioF())))
        if wanted != self._wanted_width:
            self._wanted_width = wanted
            self.image_wanted.emit(wanted)

    @property
    def wanted_width(self) -> int:
        """The width in device pixels at which the page should be painted now."""
        return max(1, self._wanted_width)

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
        """Scroll with the arrow keys, or move the line between before and after."""
        way = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()))
        if self.canvas.wipe is not None and way is not None:
            self.canvas.move_wipe(self.canvas.wipe + way * WIPE_STEP)
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
