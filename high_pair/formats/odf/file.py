"""An ODF file: its members or its one flat tree, its pictures, its styles, and saving it."""

from __future__ import annotations

import base64
import binascii
import copy
import re
from collections.abc import Mapping, Sequence
from pathlib import Path
from typing import IO

from lxml import etree
from PIL import ImageStat

from high_pair.edits.kinds import Edit, LayOver
from high_pair.errors import EditError, UnreadableFile
from high_pair.formats.odf.edits import apply
from high_pair.formats.odf.styles import Styles
from high_pair.formats.package import Package
from high_pair.formats.picture_members import refuse_giant_pictures
from high_pair.formats.writing import write_whole
from high_pair.formats.xml import NAMESPACES, Element, child, local_name, number, parse, tag
from high_pair.raster.pictures import PictureProblem, Pictures
from high_pair.scene.addresses import expand, member_of
from high_pair.scene.paint import Colour

ENCRYPTED = re.compile(rb"<([\w.-]+:)?encryption-data[\s/>]")
CONTENT, STYLES, MANIFEST = "content.xml", "styles.xml", "META-INF/manifest.xml"
# Namespaces that writers had before ODF 1.0 was done, and those that it has for the same.
EARLY = {
    "http://www.w3.org/1999/XSL/Format": NAMESPACES["fo"],
    "http://www.w3.org/2000/svg": NAMESPACES["svg"],
}
ROOT_BYTES = 8_192
# The spaces of what the office suites that write most such files add to the format.
SUITE = re.compile(r"http://(?:www\.)?openoffice\.org/")
# A picture that is see-through anywhere has a mean opacity below this, of 255.
OPAQUE = 254.99
MOST_FLAT_BYTES = 256 * 1024**2


class OdfFile:
    """An open ODF file of any kind; edited versions share its package and pictures."""

    def __init__(self, name: str, package: Package | None, flat: Element | None) -> None:
        """Take a package, or the root of a flat file. Raises UnreadableFile."""
        self.name = name
        self.package = package
        self.roots: dict[str, Element] = {}
        self.changed: frozenset[str] = frozenset()
        self.assumed: list[str] = []
        if package is not None:
            self.roots[CONTENT] = _parsed(package.read(CONTENT), name, CONTENT)
            if STYLES in package.members:
                self.roots[STYLES] = _parsed(package.read(STYLES), name, STYLES)
            else:
                self.assumed.append("styles.xml is missing: plain pages and styles are used")
        elif flat is not None:
            self.roots[CONTENT] = flat
        self.styles = Styles(self.content, self.roots.get(STYLES))
        self.pictures = Pictures(self._load_picture)
        if package is not None:
            refuse_giant_pictures(package)

    @property
    def content(self) -> Element:
        """The root of the content."""
        return self.roots[CONTENT]

    @property
    def common(self) -> Element:
        """The root that holds the common styles and the master pages."""
        return self.roots.get(STYLES, self.content)

    @property
    def styles_member(self) -> str:
        """The member that holds them."""
        return STYLES if STYLES in self.roots else CONTENT

    @property
    def bare_is_tenths(self) -> bool:
        """Whether a bare gradient angle means tenths of a degree.

        It does before ODF 1.3, and the office suites that descend from one
        another went on so; other writers of ODF 1.3 mean degrees.
        """
        version = self.content.get(tag("office:version"), "")
        return self._by_office_suite or number(version, 1.2) < 1.3

    @property
    def skips_shapes_text(self) -> bool | None:
        """Whether text properties of automatic styles of shapes count for nothing.

        So it is in the office suites that descend from one another, which state the same again at
        the text itself. In a file from elsewhere they may be all that is stated.
        """
        return True if self._by_office_suite else None

    @property
    def _by_office_suite(self) -> bool:
        """Whether one of the office suites that descend from one another wrote the file.

        It names itself so, or, in templates from which its name was taken, declares their spaces.
        """
        named = self._generator()
        spaces = self.content.nsmap.values()
        return "Office" in named or (not named and any(map(SUITE.match, spaces)))

    def _generator(self) -> str:
        root = self.content
        if self.package is not None:
            if "meta.xml" not in self.package.members:
                return ""
            root = parse(self.package.read("meta.xml"), self.name, "meta.xml")
        found = next(root.iter(tag("meta:generator")), None)
        return (found.text or "") if found is not None else ""

    # Pictures

    def picture_name(self, image: Element) -> str:
        """Name a picture: its member, or where in the file its bytes stand; empty without any."""
        reference = image.get(tag("xlink:href"), "").removeprefix("./")
        if reference and self.package is not None and reference in self.package.members:
            return reference
        if child(image, "office:binary-data") is not None:
            return f"inline:{_inline_images(self.content).index(image)}"
        return ""

    def picture_size(self, name: str) -> tuple[float, float] | None:
        """Give a picture's own size in points; None when it can't be read."""
        try:
            size = self.pictures.size_in_points(name)
        except PictureProblem:
            return None
        return size if min(size) > 0 else None

    def picture_mean(self, image: Element) -> Colour | None:
        """Give the mean colour of a picture; None where it is see-through or can't be read."""
        try:
            picture = self.pictures.decoded(self.picture_name(image))
        except PictureProblem:
            return None
        *channels, opacity = ImageStat.Stat(picture.convert("RGBA")).mean
        return Colour(*(each / 255 for each in channels)) if opacity >= OPAQUE else None

    def _load_picture(self, name: str) -> bytes:
        try:
            if name.startswith("inline:"):
                return self._inline(name.removeprefix("inline:"))
            if self.package is None:
                raise PictureProblem("it is missing")
            return self.package.read(name)
        except UnreadableFile as error:
            raise PictureProblem("its data is damaged or missing") from error

    def _inline(self, number_of_image: str) -> bytes:
        image = _inline_images(self.content)[int(number_of_image)]
        data = child(image, "office:binary-data")
        try:
            return base64.b64decode("".join((data.text or "").split()) if data is not None else "")
        except (binascii.Error, ValueError) as error:
            raise PictureProblem("its data is damaged") from error

    def object_root(self, shape: Element) -> Element | None:
        """Give the content of an embedded object, such as a chart; None where it has none."""
        reference = child(shape, "draw:object")
        within = child(reference, "office:document")
        if within is not None:
            return within
        folder = reference.get(tag("xlink:href"), "") if reference is not None else ""
        member = f"{folder.removeprefix('./').rstrip('/')}/{CONTENT}"
        if self.package is None or member not in self.package.members:
            return None
        return _parsed(self.package.read(member), self.name, member)

    # Edits and saving

    def edited(self, edits: Sequence[Edit]) -> OdfFile:
        """Give the file with these edits carried out on copies of its parts."""
        file = copy.copy(self)
        file.roots = dict(self.roots)
        changed: set[str] = set()
        for edit in edits:
            for member in dict.fromkeys(member_of(each) for each in expand(edit.address)):
                if member not in file.roots:
                    raise EditError(f"{edit.address} isn't in {self.name}")
                common = self.styles_member
                needed = {member, common} if isinstance(edit, LayOver) else {member}
                for name in needed - changed:
                    file.roots[name] = copy.deepcopy(self.roots[name])
                changed |= needed
            apply(edit, file.roots[member], file.roots[common])
        file.changed = frozenset(changed)
        file.styles = Styles(file.content, file.roots.get(STYLES))
        return file

    def save(self, target: Path) -> None:
        """Write a copy: the edited parts new, every other member byte for byte."""
        if self.package is not None:
            replaced: Mapping[str, bytes] = {
                member: _serialise(self.roots[member]) for member in self.changed
            }
            self.package.write_copy(target, replaced)
            return
        data = _serialise(self.content)
        write_whole(target, target, lambda out: _put(out, data))

    def close(self) -> None:
        """Let go of the file."""
        if self.package is not None:
            self.package.close()


def _inline_images(root: Element) -> list[Element]:
    """List the pictures whose bytes stand in the XML itself; edits never change their order."""
    images = root.iter(tag("draw:image"), tag("draw:fill-image"))
    return [image for image in images if child(image, "office:binary-data") is not None]


def _serialise(root: Element) -> bytes:
    return etree.tostring(root.getroottree(), xml_declaration=True, encoding="UTF-8")


def _put(out: IO[bytes], data: bytes) -> None:
    out.write(data)


def is_odf(package: Package) -> bool:
    """Tell whether a package is an ODF file of any kind. Raises UnreadableFile without content."""
    if "mimetype" not in package.members:
        return False
    if CONTENT in package.members:
        return True
    if STYLES in package.members:
        raise UnreadableFile(
            package.name, "it holds styles alone, and no text. Open a document made with it."
        )
    return False


def kind_of(package: Package) -> str:
    """Give a package's media type. Raises UnreadableFile for encrypted ones."""
    kind = package.read("mimetype").decode("ascii", "replace").strip()
    # Manifests of ODF 1.0 name a document type that declares their prefix: no parser takes them
    # alone, and nothing else in them is asked for.
    manifest = package.read(MANIFEST) if MANIFEST in package.members else b""
    if ENCRYPTED.search(manifest):
        raise UnreadableFile(package.name, "it is encrypted. Remove its password first.")
    return kind


def _parsed(data: bytes, file: str, member: str) -> Element:
    """Parse a member; one of an early writer as what it means. Raises UnreadableFile."""
    first = next(iter(EARLY)).encode()
    if first in data[:ROOT_BYTES]:
        for early, final in EARLY.items():
            data = data.replace(f'"{early}"'.encode(), f'"{final}"'.encode())
    return parse(data, file, member)


def read_flat(path: Path) -> tuple[str, Element]:
    """Read a flat ODF file: its media type, and its root. Raises UnreadableFile."""
    try:
        if path.stat().st_size > MOST_FLAT_BYTES:
            raise UnreadableFile(path.name, "it is larger than is read.")
        data = path.read_bytes()
    except OSError as error:
        raise UnreadableFile(path.name, f"it can't be opened ({error.strerror}).") from error
    root = _parsed(data, path.name, path.name)
    if local_name(root) != "document":
        raise UnreadableFile(path.name, "it is an XML file, but no flat OpenDocument file.")
    return root.get(tag("office:mimetype"), ""), root
