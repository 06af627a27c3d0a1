"""Putting other pixels into a picture, and writing it with all that belongs to it.

Source: for what is kept of a JPEG, its own quantisation tables (ITU-T T.81, annex B.2.4.1).
"""

from __future__ import annotations

import base64
import binascii
import io
from collections.abc import Mapping, Sequence
from typing import Any

import numpy as np
from PIL import Image, ImageCms, ImageOps, JpegImagePlugin, PngImagePlugin

from high_pair.colour.srgb import Bytes
from high_pair.edits.kinds import Repaint
from high_pair.errors import EditError, UnwritableFile
from high_pair.raster.pictures import DAMAGE, LONGEST_SIDE, PictureProblem, opened, undecoded

PNG = ".png"
# What is written anew in its own format, by the suffixes of its files.
WRITTEN = {
    "PNG": (PNG,),
    "JPEG": (".jpg", ".jpeg", ".jpe", ".jfif"),
    "WEBP": (".webp",),
    "BMP": (".bmp", ".dib"),
    "TIFF": (".tif", ".tiff"),
}
# Whose pixels are changed as they are; of the others a copy as PNG has those of `TURNED_PLAIN`.
PLAIN, TURNED_PLAIN = ("RGB", "RGBA", "L"), ("P", "1", "LA", "PA")
POINTS_A_PIXEL = 0.75


def patch_of(pixels: Bytes) -> str:
    """Write pixels, uint8 (h, w, 3) in sRGB, as a patch."""
    out = io.BytesIO()
    Image.fromarray(pixels).save(out, "PNG")
    return base64.b64encode(out.getvalue()).decode("ascii")


def _pixels_of(edit: Repaint) -> Image.Image:
    """Read a patch, of the size that its box has. Raises EditError."""
    try:
        patch = opened(base64.b64decode(edit.patch, validate=True)).convert("RGB")
    except (PictureProblem, binascii.Error, ValueError) as error:
        raise EditError(f"{edit.address}: its pixels can't be read ({error}).") from error
    if patch.size != corners_of(edit.box)[2:]:
        raise EditError(f"{edit.address}: its pixels aren't as many as its box has.")
    return patch


def corners_of(box: Sequence[float]) -> tuple[int, int, int, int]:
    """Give a box in points as left, top, width and height in pixels."""
    x, y, width, height = (side / POINTS_A_PIXEL for side in box)
    left, top = round(x), round(y)
    return left, top, round(x + width) - left, round(y + height) - top


def can_be_repainted(data: bytes) -> bool:
    """Tell whether pixels of a picture can be changed and all else of it kept."""
    try:
        picture = undecoded(data)
        single = getattr(picture, "n_frames", 1) == 1
        return (
            single
            and max(picture.size) <= LONGEST_SIDE
            and picture.mode in (*PLAIN, *TURNED_PLAIN)
            and picture.format in (*WRITTEN, "GIF")
        )
    except (*DAMAGE, PictureProblem):
        return False


def suffixes_of(data: bytes, own: str) -> tuple[str, ...]:
    """List the suffixes of files in which a changed picture can be written, the usual first."""
    picture = undecoded(data)
    keeps = picture.mode in PLAIN and own.lower() in WRITTEN.get(picture.format or "", ())
    return (own, PNG) if keeps and own.lower() != PNG else (PNG,)


def written(data: bytes, edits: Sequence[Repaint], name: str, suffix: str) -> bytes:
    """Give a picture's file with patches in their places, in the format of a suffix.

    Its colour profile and all that it says of itself stay, its turn is carried out.
    Raises UnwritableFile for a format in which it would lose something, EditError for a
    patch that is none or doesn't fit.
    """
    source = undecoded(data)
    kind = next((each for each, ends in WRITTEN.items() if suffix.lower() in ends), None)
    if kind is None or (kind != "PNG" and (kind != source.format or source.mode not in PLAIN)):
        raise UnwritableFile(name, "a changed picture of this kind is saved as PNG (.png).")
    options = _kept(source, kind)
    turned = ImageOps.exif_transpose(source)
    picture = turned if turned is not None else source
    if picture.mode not in PLAIN:
        picture = picture.convert("RGBA" if picture.has_transparency_data else "RGB")
    exif = picture.getexif()
    if len(exif):
        options["exif"] = exif.tobytes()
    for edit in edits:
        left, top, width, height = corners_of(edit.box)
        if left < 0 or top < 0 or left + width > picture.width or top + height > picture.height:
            raise EditError(f"{edit.address}: its pixels lie off the picture.")
        patch = _in_profile(_pixels_of(edit), source.info.get("icc_profile"))
        if picture.mode == "L":
            channels = np.asarray(patch).astype(int)
            if (np.ptp(channels, axis=-1) == 0).all():
                patch = patch.convert("L")
            else:
                picture = picture.convert("RGB")
        picture.paste(patch, (left, top))
    out = io.BytesIO()
    picture.save(out, kind, **options)
    return out.getvalue()


def _kept(source: Image.Image, kind: str) -> dict[str, Any]:
    """Give what is kept of a picture beside its pixels, as Pillow writes it in a format."""
    info: Mapping[Any, Any] = source.info
    found: dict[str, Any] = {
        key: info[key] for key in ("icc_profile", "dpi", "xmp") if info.get(key) is not None
    }
    if kind == "PNG":
        found.pop("xmp", None)
        text = PngImagePlugin.PngInfo()
        for key, value in getattr(source, "text", {}).items():
            text.add_itxt(key, value) if not _is_latin(value) else text.add_text(key, value)
        found["pnginfo"] = text
    elif kind == "JPEG" and isinstance(source, JpegImagePlugin.JpegImageFile):
        found["qtables"] = source.quantization
        if source.mode != "L":
            found["subsampling"] = JpegImagePlugin.get_sampling(source)
        if info.get("comment"):
            found["comment"] = info["comment"]
    elif kind == "WEBP":
        found["lossless"] = True
        found.pop("dpi", None)
    elif kind == "BMP":
        found = {key: value for key, value in found.items() if key == "dpi"}
    elif kind == "TIFF":
        compression = info.get("compression")
        lossy = ("jpeg", "webp", "old-jpeg")
        found["compression"] = compression if compression not in lossy else "tiff_lzw"
        found.pop("xmp", None)
    return found


def _is_latin(text: str) -> bool:
    try:
        text.encode("latin-1", "strict")
    except UnicodeEncodeError:
        return False
    return True


def _in_profile(patch: Image.Image, profile: bytes | None) -> Image.Image:
    """Bring pixels in sRGB to a picture's own colour space."""
    if not profile:
        return patch
    try:
        target = ImageCms.ImageCmsProfile(io.BytesIO(profile))
        if "srgb" in ImageCms.getProfileDescription(target).lower():
            return patch
        space = str(target.profile.xcolor_space).strip()
        if space != "RGB":
            return patch
        source = ImageCms.createProfile("sRGB")
        return ImageCms.profileToProfile(patch, source, target, outputMode="RGB") or patch
    except (ImageCms.PyCMSError, OSError, ValueError, TypeError):
        # A broken profile is ignored when the picture is read as well.
        return patch
