"""Numbers only: luminance, ratio, compositing, OKLab, ΔE, gamut and notation.

Arrays of colours end in an axis of three channels. Unless a function says
otherwise, channels are gamma-encoded sRGB as float64 from 0 to 1; arrays of
type uint8 hold the same from 0 to 255.
"""
