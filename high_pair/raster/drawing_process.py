"""The process that paints one drawing (SVG): its data comes in, a PNG goes out.

A short drawing may ask for any amount of painting, which the library can't be stopped at. So it has
a process of its own, with limits of time and memory.
"""

from __future__ import annotations

import sys

from high_pair.process.limits import MEGABYTE, die_with_parent, limit_memory

MOST_MEMORY = 768 * MEGABYTE
DAMAGED = 1


def main() -> int:
    """Paint the drawing on standard input. The arguments are its width and height in pixels, and
    the fonts: four families, and files."""
    die_with_parent()
    limit_memory(MOST_MEMORY)
    import resvg_py

    width, height, serif, sans, mono, *files = sys.argv[1:]
    try:
        painted = resvg_py.svg_to_bytes(
            svg_string=sys.stdin.buffer.read().decode(),
            width=int(width),
            height=int(height),
            skip_system_fonts=True,
            font_files=files,
            font_family=serif,
            serif_family=serif,
            sans_serif_family=sans,
            monospace_family=mono,
        )
    except (ValueError, RuntimeError, MemoryError):
        return DAMAGED
    sys.stdout.buffer.write(bytes(painted))
    return 0


if __name__ == "__main__":
    sys.exit(main())
