"""How large the drafts may be that follow a hand, for it not to wait for them."""

import math

AT_MOST_MS = 30.0
# What the first draft of a size may take, which finds nothing at hand that was drawn before it.
FIRST_AT_MOST_MS = 90.0
# Shares of the picture's size. Few, since each draws from a photo of its own size that is kept.
SCALES = (1.0, 0.8, 0.64, 0.5, 0.4, 0.32)
BEGIN = 0.4
# The first of all comes while the page is still busy setting itself up.
FIRST = SCALES[-1]
FORGETS = 0.8


class Pace:
    """The scale of the next draft, told from how long those before it took.

    first: of the very first. begin: where the next begin at most, after a rest. least: none is
    smaller. at_most_ms: what they may take.
    """

    def __init__(
        self,
        first: float = FIRST,
        begin: float = BEGIN,
        least: float = SCALES[-1],
        at_most_ms: float = AT_MOST_MS,
    ) -> None:
        self.scale, self._after_rest, self._least = first, begin, least
        self._at_most_ms = at_most_ms
        self._is_first = True
        # What the first draft would take at the picture's own size, by the dearest one so far.
        self._whole_ms = 0.0

    def rest(self) -> None:
        """The hand rests; the next may turn a dial whose drafts are dearer."""
        self._begin(min(self.scale, self._after_rest))
        self._whole_ms *= FORGETS

    def drafted(self, taken_ms: float) -> None:
        """Learn from a draft at the present scale."""
        at = SCALES.index(self.scale)
        if self._is_first:
            self._is_first = False
            self._whole_ms = max(self._whole_ms, taken_ms / self.scale**2)
            if taken_ms <= FIRST_AT_MOST_MS:
                return
        if taken_ms > self._at_most_ms:
            # The time goes with the pixels, and these with the square of the scale.
            wanted = self.scale * math.sqrt(self._at_most_ms / taken_ms)
            self._begin(next((each for each in SCALES[at:] if each <= wanted), 0.0))
        elif taken_ms < self._at_most_ms / 2:
            larger = SCALES[max(0, at - 1)]
            if self._whole_ms * larger**2 <= FIRST_AT_MOST_MS:
                self._begin(larger)

    def _begin(self, scale: float) -> None:
        scale = max(scale, self._least)
        self._is_first |= scale != self.scale
        self.scale = scale
