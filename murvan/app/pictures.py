"""Plans and photographs of the open job: kept by their contents' name, written into the job file on saving."""

from __future__ import annotations

import hashlib
from functools import lru_cache
from pathlib import Path

from PyQt6.QtCore import QBuffer, QByteArray, QIODevice, QPointF, QSize, Qt
from PyQt6.QtGui import QColor, QImage, QImageReader, QPen, QPixmap, QPolygonF
from PyQt6.QtPdf import QPdfDocument

from murvan.app.painters import drawing
from murvan.design.drawing import Drawing
from murvan.machine import home
from murvan.model import Job
from murvan.model.atomic import write_atomic
from murvan.model.edit import changed
from murvan.model.errors import JobFileError
from murvan.model.files import pictures_of

MOST_BYTES = 32 * 1024 * 1024
MOST_PX = 6000
LEAST_PX = 16
PDF_DPI = 150
DXF_PX_PER_M = 60.0
SUFFIXES = (".png", ".jpg", ".jpeg", ".pdf")


def folder() -> Path:
    return home() / "pictures"


def keep(data: bytes, kind: str, suffix: str) -> str:
    """Put a picture into the store; its name in the job file, `plans/<hash>.png`."""
    name = f"{kind}/{hashlib.sha256(data).hexdigest()[:20]}{suffix}"
    file = folder() / name.replace("/", "-")
    if not file.is_file():
        file.parent.mkdir(parents=True, exist_ok=True)
        write_atomic(file, lambda p: p.write_bytes(data), private=True)
    return name


def keep_all(job: Job, members: dict[str, bytes]) -> Job:
    """Put the pictures of an opened job file into the store; the job, with their names by content: two jobs may call
    different pictures alike."""
    new = {name: keep(raw, name.partition("/")[0], Path(name).suffix.lower()) for name, raw in members.items()}
    forget_images()  # what was missing may be there now
    if all(k == v for k, v in new.items()):
        return job
    underlays = tuple(changed(u, u.name, file=new.get(u.file, u.file)) for u in job.underlays)
    existing = tuple(changed(e, e.name, photos=tuple(new.get(p, p) for p in e.photos)) for e in job.existing)
    return changed(job, job.name, underlays=underlays, existing=existing)


def data(name: str) -> bytes | None:
    """A picture's bytes; None when it is not in the store."""
    file = folder() / name.replace("/", "-")
    try:
        return file.read_bytes()
    except OSError:
        return None


def of_job(job: Job) -> dict[str, bytes]:
    """All pictures a job refers to that are in the store."""
    found = {name: data(name) for name in pictures_of(job)}
    return {name: d for name, d in found.items() if d is not None}


def take(path: Path, kind: str = "plans") -> tuple[str, int, int, int]:
    """Take a picture or PDF from disk: (name, width, height in px of page 1, pages).

    Raises:
        JobFileError: no such file, too large, or no picture.
    """
    try:
        size = path.stat().st_size
        if size > MOST_BYTES:
            raise JobFileError(
                f"{path.name} is {size / 1e6:.0f} MB; up to {MOST_BYTES / 1e6:.0f} MB can be taken. "
                "Save it smaller, 150 dots an inch are plenty."
            )
        raw = path.read_bytes()
    except OSError as exc:
        raise JobFileError(f"Can't read {path.name}: {exc.strerror}.") from None
    suffix = path.suffix.lower()
    if suffix == ".pdf":
        name = keep(raw, "plans", ".pdf")
        pages = pdf_pages(name)
        image = page_image(name, 1)
        if pages < 1 or image is None:
            raise JobFileError(f"{path.name} is not a PDF that can be read.")
        return name, image.width(), image.height(), pages
    image = _read(raw) if raw[:8] == b"\x89PNG\r\n\x1a\n" or raw[:3] == b"\xff\xd8\xff" else None
    if image is None:
        raise JobFileError(f"{path.name} is not a PNG or JPEG picture, or it is damaged.")
    if min(image.width(), image.height()) < LEAST_PX:
        raise JobFileError(f"{path.name} is {image.width()} × {image.height()} px; there is nothing to trace in it.")
    suffix = ".png" if raw[:1] == b"\x89" else ".jpg"
    if max(image.width(), image.height()) > MOST_PX:
        image = image.scaled(
            MOST_PX, MOST_PX, Qt.AspectRatioMode.KeepAspectRatio, Qt.TransformationMode.SmoothTransformation
        )
        raw, suffix = png(image), ".png"
    return keep(raw, kind, suffix), image.width(), image.height(), 1


def _read(raw: bytes) -> QImage | None:
    buffer = QBuffer()
    buffer.setData(QByteArray(raw))
    buffer.open(QIODevice.OpenModeFlag.ReadOnly)
    reader = QImageReader(buffer)
    reader.setAutoTransform(True)
    QImageReader.setAllocationLimit(1024)
    image = reader.read()
    return None if image.isNull() else image


def png(image: QImage) -> bytes:
    """The image as PNG bytes."""
    buffer = QBuffer()
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    image.save(buffer, "PNG")
    return bytes(buffer.data().data())


def _pdf(name: str) -> QPdfDocument | None:
    document = QPdfDocument(None)
    path = folder() / name.replace("/", "-")
    return document if document.load(str(path)) == QPdfDocument.Error.None_ else None


def pdf_pages(name: str) -> int:
    """Number of pages of a PDF in the store; 0 when it can't be read."""
    document = _pdf(name)
    return document.pageCount() if document is not None else 0


@lru_cache(maxsize=8)
def page_image(name: str, page: int) -> QImage | None:
    """A picture, or a page of a PDF, as an image; None when it is not there."""
    if not name.endswith(".pdf"):
        raw = data(name)
        return _read(raw) if raw is not None else None
    document = _pdf(name)
    if document is None or not 1 <= page <= document.pageCount():
        return None
    points = document.pagePointSize(page - 1)
    scale = min(PDF_DPI / 72, MOST_PX / max(points.width(), points.height(), 1.0))
    image = document.render(page - 1, QSize(int(points.width() * scale), int(points.height() * scale)))
    if image.isNull():
        return None
    paper = QImage(image.size(), QImage.Format.Format_RGB32)
    paper.fill(QColor("#FFFFFF"))
    with drawing(paper, False) as p:
        p.drawImage(0, 0, image)
    return paper


@lru_cache(maxsize=8)
def pixmap(name: str, page: int, dark: bool) -> QPixmap | None:
    """The picture ready to draw; on a dark plan its colours are turned over."""
    image = page_image(name, page)
    if image is None:
        return None
    if dark:
        image = image.convertToFormat(QImage.Format.Format_RGB32)
        image.invertPixels()
    return QPixmap.fromImage(image)


def forget_images() -> None:
    """Drop what is cached; the pictures themselves stay."""
    page_image.cache_clear()
    pixmap.cache_clear()


def drawn(plan: Drawing) -> tuple[bytes, int, int, float]:
    """A DXF's lines as a picture: PNG bytes, width, height, metres a pixel."""
    w_m, h_m = plan.size_m
    scale = min(DXF_PX_PER_M, MOST_PX / max(w_m, h_m, 0.1))
    image = QImage(max(int(w_m * scale) + 3, 3), max(int(h_m * scale) + 3, 3), QImage.Format.Format_RGB32)
    image.fill(QColor("#FFFFFF"))
    with drawing(image) as p:
        p.setPen(QPen(QColor("#10181B"), 1.4))
        for line in plan.lines:
            p.drawPolyline(QPolygonF([QPointF(x * scale + 1, y * scale + 1) for x, y in line]))
    return png(image), image.width(), image.height(), 1 / scale
