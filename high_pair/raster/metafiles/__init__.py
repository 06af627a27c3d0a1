"""Pictures that are lists of drawing commands (EMF and WMF), painted by Skia.

Source: [MS-EMF] and [MS-WMF], published under the Open Specifications Promise. What a record asks
for that isn't painted here makes the whole picture one that can't be.
"""

from high_pair.raster.metafiles.reading import is_metafile, metafile_size, painted_metafile

__all__ = ["is_metafile", "metafile_size", "painted_metafile"]
