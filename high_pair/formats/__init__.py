"""Reading documents of each family, and writing edits into a copy.

Every family gives a `Document` (see `document`); nothing above this layer asks
which format it is.
"""

from high_pair.formats.opening import open_document

__all__ = ["open_document"]
