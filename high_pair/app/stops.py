"""Whether what was asked for is still wanted, where a person may have stopped it meanwhile."""

from __future__ import annotations

from collections.abc import Callable


class Stops:
    """Counts how often something was stopped."""

    def __init__(self) -> None:
        self._count = 0

    def stop(self) -> None:
        """Say that nothing asked for until now is wanted any more."""
        self._count += 1

    def asked(self) -> Callable[[], bool]:
        """Give what tells, at any later time, whether what is asked for now is still wanted."""
        count = self._count
        return lambda: count == self._count
