"""Pictures of data, in step with the reading line; several can be kept open."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QBuffer, QByteArray, QMimeData, QPoint, QRect, QSize, QSizeF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QContextMenuEvent, QImage, QPainter, QPaintEvent, QPicture, QPixmap
from PyQt6.QtWidgets import (
    QApplication,
    QComboBox,
    QHBoxLayout,
    QMenu,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from eelgrass.desktop.look.look import Look
from eelgrass.desktop.look.palette import code_font
from eelgrass.desktop.services.translation import tr
from eelgrass.desktop.session.session import Session
from eelgrass.desktop.session.view_options import ViewOptions
from eelgrass.desktop.tabs.picture_painter import PicturePainter
from eelgrass.reading.pictures.shapes import Picture, picture_of
from eelgrass.trace.values import NOT_SET

_EDGE = 12
_SCALE = 2


class PicturesView(QWidget):
    """A name is chosen or written and stays until it is taken away. Signal: `saving(path)` for the picture of a path
    that is wanted as a file."""

    saving = pyqtSignal(str)

    def __init__(self, session: Session, options: ViewOptions, look: Look) -> None:
        super().__init__()
        self._session = session
        self._options = options
        self.name = QComboBox()
        self.name.setEditable(True)
        self.name.setAccessibleName(tr("The name to draw"))
        self.draw = QPushButton(tr("Draw"))
        self.sheet = _Sheet(self, session, options, look)
        area = QScrollArea()
        area.setAccessibleName(tr("Pictures of data"))
        area.setWidget(self.sheet)
        area.setWidgetResizable(True)
        area.setFrameShape(area.Shape.NoFrame)
        above = QHBoxLayout()
        above.addWidget(self.name, 1)
        above.addWidget(self.draw)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(8, 6, 8, 4)
        layout.setSpacing(4)
        layout.addLayout(above)
        layout.addWidget(area, 1)
        self.draw.clicked.connect(lambda: options.keep_picture(self.name.currentText()))
        line = self.name.lineEdit()
        assert line is not None
        line.returnPressed.connect(lambda: options.keep_picture(self.name.currentText()))
        line.setPlaceholderText(tr("a name, element or field, as: stock[2]"))
        session.moved.connect(self.refresh)
        session.opened.connect(self.refresh)
        options.pictures_changed.connect(self.refresh)
        look.dresses(self._dress)

    def _dress(self) -> None:
        for widget in (self.name, self.name.lineEdit()):  # which does not follow once it has had another look
            if widget is not None:
                widget.setFont(code_font(9.5))
        self.refresh()

    def refresh(self) -> None:
        """Draws all pictures at the shown step."""
        recording, step = self._session.recording, self._session.step
        if recording is None or not self.isVisible():
            return
        written = self.name.currentText()
        frames, _ = recording.stack_rows.frames_at(step)
        names = [
            binding.name
            for frame in reversed(frames)
            for scope in frame.scopes
            for binding in scope.bindings
            if binding.value != NOT_SET and not binding.name.startswith("__")
        ]
        self.name.blockSignals(True)
        self.name.clear()
        self.name.addItems(list(dict.fromkeys(names)))
        self.name.setCurrentText(written)
        self.name.blockSignals(False)
        self.sheet.show_pictures([picture_of(recording, path, step) for path in self._options.pictures])

    def showEvent(self, event: object) -> None:
        super().showEvent(event)  # type: ignore[arg-type]
        self.refresh()


class _Sheet(QWidget):
    """The pictures, one below the other."""

    def __init__(self, owner: PicturesView, session: Session, options: ViewOptions, look: Look) -> None:
        super().__init__()
        self._owner = owner
        self._session = session
        self._options = options
        self._look = look
        self.pictures: list[Picture] = []
        self._places: list[QRect] = []
        self._drawn: list[QPixmap] = []
        self._guess = QSize(800, 400)

    def show_pictures(self, pictures: list[Picture]) -> None:
        """Takes the pictures, and the room that they need."""
        self.pictures = pictures
        y, width, self._places, self._drawn = _EDGE, 0, [], []
        drawing = self._drawing()
        for picture in pictures:
            drawn, size = self._draw(drawing, picture)
            self._drawn.append(drawn)
            self._places.append(QRect(_EDGE, y, int(size.width()) + 1, int(size.height()) + 1))
            y += int(size.height()) + 2 * _EDGE
            width = max(width, int(size.width()) + 2 * _EDGE)
        self.setMinimumSize(QSize(width, y))
        self.update()

    def _drawing(self) -> PicturePainter:
        recording, step = self._session.recording, self._session.step
        if recording is None:
            return PicturePainter(self._look.colours, lambda _number: None)
        tags = recording.stack_rows.tags
        shared = tags.shared(recording.stack_rows.frames_at(step)[0], step)
        return PicturePainter(self._look.colours, lambda number: tags.syllable(number) if number in shared else None)

    def _draw(self, drawing: PicturePainter, picture: Picture) -> tuple[QPixmap, QSizeF]:
        """A picture drawn once, so that the screen is painted from it; and its size, which is known only then."""
        ratio = self.devicePixelRatioF()
        while True:
            drawn = QPixmap(self._guess * ratio)
            drawn.setDevicePixelRatio(ratio)
            drawn.fill(QColor(self._look.colours.beach))
            painter = QPainter(drawn)
            size = drawing.paint(painter, picture)
            painter.end()
            if size.width() <= self._guess.width() and size.height() <= self._guess.height():
                return drawn, size
            self._guess = self._guess.expandedTo(QSize(int(size.width()) + 40, int(size.height()) + 40))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), QColor(self._look.colours.beach))
        if not self.pictures:
            painter.setPen(QColor(self._look.colours.ink_soft))
            told = tr("Choose a name above, or a value of Depths by a right click, and its picture stands here.")
            painter.drawText(self.rect().adjusted(16, 12, -16, 0), int(Qt.TextFlag.TextWordWrap), told)
        for drawn, place in zip(self._drawn, self._places, strict=True):
            if event is None or event.rect().intersects(place):
                painter.drawPixmap(
                    place.topLeft(), drawn, QRect(QPoint(0, 0), place.size() * drawn.devicePixelRatioF())
                )

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:
        """What can be done with the picture under the pointer."""
        found = [
            picture
            for picture, place in zip(self.pictures, self._places, strict=True)
            if event is not None and place.top() <= event.pos().y() <= place.bottom()
        ]
        if event is None or not found:
            return
        picture, menu = found[0], QMenu(self)
        for title, call in (
            ("Copy", lambda: self.copy(picture)),
            ("Save as SVG or PNG…", lambda: self._owner.saving.emit(picture.path)),
            (
                "Take away",
                lambda: self._options.set_pictures([its for its in self._options.pictures if its != picture.path]),
            ),
        ):
            action = menu.addAction(tr(title))
            assert action is not None
            action.triggered.connect(lambda _checked, call=call: call())
        menu.exec(event.globalPos())

    # Out of the window

    def image(self, picture: Picture) -> QImage:
        """The picture as an image of twice its size on the screen."""
        size = _drawn_into(QPicture(), self._drawing(), picture)
        image = QImage(
            int((size.width() + 2 * _EDGE) * _SCALE),
            int((size.height() + 2 * _EDGE) * _SCALE),
            QImage.Format.Format_ARGB32,
        )
        image.fill(QColor(self._look.colours.beach))
        painter = QPainter(image)
        painter.scale(_SCALE, _SCALE)
        painter.translate(_EDGE, _EDGE)
        self._drawing().paint(painter, picture)
        painter.end()
        return image

    def svg(self, picture: Picture) -> bytes:
        """The picture as SVG."""
        from PyQt6.QtSvg import QSvgGenerator  # needed seldom

        size, data = _drawn_into(QPicture(), self._drawing(), picture), QByteArray()
        buffer = QBuffer(data)
        generator = QSvgGenerator()
        generator.setOutputDevice(buffer)
        generator.setSize(QSize(int(size.width()) + 2 * _EDGE, int(size.height()) + 2 * _EDGE))
        generator.setTitle(picture.title)
        painter = QPainter(generator)
        painter.translate(_EDGE, _EDGE)
        self._drawing().paint(painter, picture)
        painter.end()
        return bytes(data.data())

    def copy(self, picture: Picture) -> None:
        """Puts the picture on the clipboard, as an image and as SVG."""
        clipboard, data = QApplication.clipboard(), QMimeData()
        data.setImageData(self.image(picture))
        data.setData("image/svg+xml", QByteArray(self.svg(picture)))
        if clipboard is not None:
            clipboard.setMimeData(data)

    def write(self, path: str, file: Path) -> bytes:
        """The bytes of the picture of a path, SVG or PNG by the file's name."""
        picture = next(its for its in self.pictures if its.path == path)
        if file.suffix.lower() == ".svg":
            return self.svg(picture)
        data = QByteArray()
        buffer = QBuffer(data)
        buffer.open(QBuffer.OpenModeFlag.WriteOnly)
        self.image(picture).save(buffer, "PNG")
        return bytes(data.data())


def _drawn_into(device: QPicture, drawing: PicturePainter, picture: Picture) -> QSizeF:
    painter = QPainter(device)
    size = drawing.paint(painter, picture)
    painter.end()
    return size
