"""The pictures in a package, looked at before anything is decoded."""

from __future__ import annotations

from high_pair.errors import UnreadableFile
from high_pair.formats.package import Package
from high_pair.raster.pictures import GiantPicture, PictureProblem, picture_size

RASTERS = (".png", ".jpg", ".jpeg", ".gif", ".bmp", ".dib", ".tif", ".tiff", ".webp")


def refuse_giant_pictures(package: Package) -> None:
    """Raise UnreadableFile when a picture says that it has more pixels than is safe.

    A picture that is damaged or of another kind is no reason: text over it will
    need eyes, and everything else can be measured.
    """
    for member in sorted(package.members):
        if not member.lower().endswith(RASTERS):
            continue
        try:
            picture_size(package.read(member))
        except GiantPicture as giant:
            raise UnreadableFile(
                package.name,
                f"its picture {member} is too large to be opened safely ({giant}). "
                "Replace it with a smaller one.",
            ) from giant
        except (PictureProblem, UnreadableFile):
            continue
