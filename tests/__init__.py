"""The tests: statements about the product.

Property tests draw the same examples every time, so that a check that passes
here passes elsewhere.
"""

from hypothesis import settings

settings.register_profile("steady", derandomize=True, deadline=None)
settings.load_profile("steady")
