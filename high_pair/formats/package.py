"""A zip package from a stranger: opened with limits, copied byte for byte.

Nothing is ever unpacked to disk. Members are read one at a time, never past
their limit, so that a member that lies about its size does no harm.
"""

from __future__ import annotations

import zipfile
import zlib
from collections.abc import Mapping
from pathlib import Path
from typing import IO

from high_pair.errors import UnreadableFile
from high_pair.formats.writing import write_whole

MOST_MEMBERS = 50_000
MOST_BYTES = 2 * 1024**3
MOST_BYTES_OF_MEMBER = 512 * 1024**2
MOST_BYTES_OF_XML = 64 * 1024**2
# Real XML packs to a tenth; a part past this ratio and size is made to do harm.
MOST_PACKING = 500
PACKING_COUNTS_FROM = 8 * 1024**2

READS = "High Pair reads .pptx, .docx, .xlsx, .odp, .odt, .ods, their kin, and pictures."
OLD_BINARY = bytes.fromhex("D0CF11E0A1B11AE1")
_ZIP_TROUBLES = (
    zipfile.BadZipFile,
    zlib.error,
    EOFError,
    OSError,
    NotImplementedError,
    RuntimeError,
    ValueError,
)


class Package:
    """An open zip package. `name` is the file's, for messages."""

    def __init__(self, path: Path) -> None:
        """Open a package and check its table of contents.

        Raises UnreadableFile for what isn't one, is encrypted, or breaks a limit.
        """
        self.name = path.name
        self.path = path
        try:
            self._file: IO[bytes] = path.open("rb")
        except OSError as error:
            raise UnreadableFile(self.name, f"it can't be opened ({error.strerror}).") from error
        try:
            self._zip = self._opened()
            self._check()
            #: The names of all members. Taken once: every relationship of every part asks.
            self.members = frozenset(self._zip.namelist())
        except BaseException:
            self._file.close()
            raise

    def _opened(self) -> zipfile.ZipFile:
        start = self._file.read(8)
        if start == OLD_BINARY:
            raise UnreadableFile(
                self.name,
                "it is encrypted, or in the old binary format. Remove its password, or save it "
                "as .pptx, and open that.",
            )
        if not start:
            raise UnreadableFile(self.name, "it is empty. Ask for the file again.")
        if not start.startswith(b"PK"):
            raise UnreadableFile(
                self.name, f"it is no deck, document, workbook or picture. {READS}"
            )
        try:
            return zipfile.ZipFile(self._file)
        except _ZIP_TROUBLES as error:
            raise UnreadableFile(
                self.name, "it is damaged: its table of contents can't be read. Ask for it again."
            ) from error

    def _check(self) -> None:
        infos = self._zip.infolist()
        if len(infos) > MOST_MEMBERS:
            raise UnreadableFile(self.name, f"it holds {len(infos):,} parts, far too many.")
        seen: set[str] = set()
        total = 0
        for info in infos:
            steps = info.filename.replace("\\", "/").split("/")
            if info.filename.startswith(("/", "\\")) or ".." in steps or "\0" in info.filename:
                raise UnreadableFile(
                    self.name, "one of its parts points outside the file. Don't trust it."
                )
            if info.filename in seen:
                raise UnreadableFile(
                    self.name, f"it holds two parts named {info.filename}. Ask for it again."
                )
            seen.add(info.filename)
            if info.flag_bits & 1:
                raise UnreadableFile(self.name, "it is encrypted. Remove its password first.")
            total += info.file_size
            packed_hard = info.file_size > MOST_PACKING * max(1, info.compress_size)
            is_bomb = packed_hard and info.file_size > PACKING_COUNTS_FROM
            if info.file_size > MOST_BYTES_OF_MEMBER or (is_bomb and _is_xml(info.filename)):
                raise UnreadableFile(
                    self.name,
                    f"its part {info.filename} would unpack to "
                    f"{info.file_size / 1024**2:,.0f} MB. It may be made to do harm.",
                )
        if total > MOST_BYTES:
            raise UnreadableFile(
                self.name, f"it would unpack to {total / 1024**3:,.1f} GB, more than is read."
            )

    def size_of(self, member: str) -> int:
        """Give the bytes of a member as it says itself, 0 when it isn't there."""
        return self._zip.getinfo(member).file_size if member in self.members else 0

    def read(self, member: str) -> bytes:
        """Give a member's bytes. Raises UnreadableFile when it is missing or damaged."""
        limit = MOST_BYTES_OF_XML if _is_xml(member) else MOST_BYTES_OF_MEMBER
        try:
            with self._zip.open(member) as stream:
                data = stream.read(limit + 1)
        except KeyError as error:
            raise UnreadableFile(self.name, f"its part {member} is missing.") from error
        except (*_ZIP_TROUBLES, MemoryError) as error:
            raise UnreadableFile(
                self.name, f"its part {member} is damaged. Ask for the file again."
            ) from error
        if len(data) > limit:
            raise UnreadableFile(
                self.name,
                f"its part {member} unpacks to more than {limit // 1024**2} MB. "
                "It may be made to do harm.",
            )
        return data

    def write_copy(self, target: Path, replaced: Mapping[str, bytes]) -> None:
        """Write a copy in which some members have other bytes; all else stays as it is.

        Every member keeps its place, date, and way of packing. The copy is
        written beside the target, flushed, and renamed into place, so that the
        target is whole or untouched. Raises UnwritableFile.
        """

        def write(out: IO[bytes]) -> None:
            with zipfile.ZipFile(out, "w") as copy:
                copy.comment = self._zip.comment
                for info in self._zip.infolist():
                    data = replaced.get(info.filename)
                    whole = self.read_whole(info.filename) if data is None else data
                    copy.writestr(_clone(info), whole)

        write_whole(target, self.path, write)

    def read_whole(self, member: str) -> bytes:
        """Give a member's bytes for copying, XML or not, up to the limit of any member."""
        try:
            with self._zip.open(member) as stream:
                data = stream.read(MOST_BYTES_OF_MEMBER + 1)
        except (KeyError, *_ZIP_TROUBLES, MemoryError) as error:
            raise UnreadableFile(
                self.name, f"its part {member} is damaged, so no copy can be made."
            ) from error
        return data

    def close(self) -> None:
        """Close the file."""
        self._zip.close()
        self._file.close()


def _is_xml(member: str) -> bool:
    return member.lower().endswith((".xml", ".rels", ".vml"))


def _clone(info: zipfile.ZipInfo) -> zipfile.ZipInfo:
    """Give a member's entry for the copy: its name, date, packing and attributes."""
    copy = zipfile.ZipInfo(info.filename, info.date_time)
    copy.compress_type = info.compress_type
    copy.comment = info.comment
    copy.extra = info.extra
    copy.create_system = info.create_system
    copy.external_attr = info.external_attr
    copy.internal_attr = info.internal_attr
    return copy
