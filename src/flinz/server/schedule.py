"""What is drawn next of an ask, how large, and what it gives way to: decided here, done elsewhere.

Nothing here draws, waits or looks at a clock. Whoever carries it out tells what each drawing took
and whether a newer ask has come.
"""

from collections.abc import Generator
from dataclasses import dataclass

from flinz.server.pace import Pace
from flinz.server.standing import Painted
from flinz.server.views import View

# How long a newer ask is waited for: before the pictures that can come late, before a slow picture
# settles, and before another of the views that have had their share of the time.
GRACE_SECONDS = 0.06
DRAFT_GRACE_SECONDS = 0.15
# How much of each ask may go to the views that follow every move.
FOLLOWING_MS = 20.0
FOLLOWING_SCALE = 0.5
MOST_PAYING = 4
DRAFT_ABOVE_MS = 40.0
# A part that is drawn over a picture is not seen to be a draft from this share of its pixels on.
LEAST_OF_PART, PART_AT_MOST_MS = 0.5, 20.0
FORGETS = 0.8
# A first picture this large begins with a draft: a sheet that is opened shows at once.
LARGE_PX = 480


@dataclass(frozen=True)
class Draw:
    """Draw views, a few at a time, and send each; the first alone is the picture looked at.

    gives_way: to a newer ask, not only to a page that has left. is_main: with figures and
    suggestions. scale: share of its size at which a draft is drawn.
    """

    views: tuple[View, ...]
    gives_way: bool = False
    is_main: bool = False
    scale: float | None = None


@dataclass(frozen=True)
class Wait:
    """Wait for a newer ask, so long at most."""

    seconds: float


@dataclass(frozen=True)
class HandBack:
    """A moment to hand memory back to the system; seldom: only where that is long ago."""

    seldom: bool = False


@dataclass(frozen=True)
class Told:
    """What came of a step: how long a drawing took, and whether a newer ask is there."""

    ms: float = 0.0
    newer: bool = False


Step = Draw | Wait | HandBack
Steps = Generator[Step, Told, None]


class Schedule:
    """What one page's asks cost so far, and from that the steps of the next one."""

    def __init__(self) -> None:
        self._pace = Pace()
        # Of drafts of what lies round a stroke, which are small at the picture's own size.
        self._pace_of_parts = Pace(1.0, 1.0, LEAST_OF_PART, PART_AT_MOST_MS)
        # How long a settled main picture takes; not known before the first. One that was
        # remembered takes no time and tells little, so that what is known fades slowly.
        self._main_ms: float | None = None
        # Of the views that follow every move: whose turn it is, what the last ones took, and which
        # are settled beside the picture looked at.
        self._turn = 0
        self._owed_ms = 0.0
        self._beside: list[View] = []

    def steps(self, views: list[View], painted: Painted = Painted.NOTHING) -> Steps:
        """The steps of an ask, in turn. Send each what came of it; the first view is looked at.

        The picture looked at is always finished, or a steady drag would never show anything;
        one that a draft went before gives way to a newer ask, as the smaller ones do. A stroke that
        is made settles at once: nobody turns anything.
        """
        if not views:
            return
        main = views[0]
        pace = self._pace if painted is not Painted.IN_PLACE else self._pace_of_parts
        following = [view for view in views[1:] if view.follows]
        others = tuple(view for view in views[1:] if not view.follows)
        gives_way = False
        beside = [view for view in following if view in self._beside]
        self._beside = beside if painted is Painted.NO_MORE else []
        if painted is Painted.WAITING:
            yield Draw((main,), is_main=True, scale=1.0)
            gives_way = True
        elif painted is Painted.NO_MORE:
            # Other pictures are wanted beside it: no draft is to come over it, nor over those that
            # are there.
            gives_way = True
            if self._is_slow(main):
                fresh = [view for view in following if view not in beside]
                drafts = [_smaller(view, self._pace.scale) for view in fresh]
                yield from self._in_turn(drafts, gives_way=False)
        elif self._is_slow(main) and main.what != "photo":
            is_first = self._main_ms is None
            told = yield Draw((main,), is_main=True, scale=pace.scale)
            pace.drafted(told.ms)
            drafts = [_smaller(view, self._pace.scale) for view in following]
            yield from self._in_turn(drafts, gives_way=False)
            # To settle takes long: a page that is slow to ask again is waited for.
            if not is_first:
                if (yield Wait(DRAFT_GRACE_SECONDS)).newer:
                    # Each draft leaves something, but a hand waits for the next.
                    yield HandBack(seldom=True)
                    return
                gives_way = True
            yield HandBack()
        told = yield Draw((main,), gives_way, is_main=True)
        self._main_ms = max(told.ms, (self._main_ms or 0.0) * FORGETS)
        self._pace.rest()
        self._pace_of_parts.rest()
        # Settled details of a slow look wait for the hand to rest; it has their drafts.
        yield from self._in_turn(following, gives_way=self._main_ms > DRAFT_ABOVE_MS)
        yield HandBack()
        if others:
            # A hand that is still turning asks again at once: nothing else comes first.
            yield Wait(GRACE_SECONDS)
            yield Draw(others, gives_way=True)

    def _is_slow(self, main: View) -> bool:
        if self._main_ms is None:
            return main.long_edge_px >= LARGE_PX
        return self._main_ms > DRAFT_ABOVE_MS

    def _in_turn(self, views: list[View], gives_way: bool) -> Steps:
        """Draw the views that follow every move, in turn, as far as the hand leaves time for them.

        While newer asks come they may take so much of each: what one of them took beyond that
        the next asks pay for, so that the main picture is never kept waiting long. What has
        settled is not paid for, and nothing for longer than MOST_PAYING asks: spots follow the
        slowest look, too.
        """
        self._owed_ms = max(0.0, self._owed_ms - FOLLOWING_MS)
        taken_ms, newer = 0.0, False
        for _ in views:
            if self._owed_ms > 0 and (yield Wait(GRACE_SECONDS)).newer:
                return
            if taken_ms > FOLLOWING_MS and newer:
                return
            view = views[self._turn % len(views)]
            self._turn += 1
            told = yield Draw((view,), gives_way)
            taken_ms, newer = taken_ms + told.ms, told.newer
            if view.draft:
                self._owed_ms = min(self._owed_ms + told.ms, MOST_PAYING * FOLLOWING_MS)
            else:
                self._beside.append(view)


def _smaller(view: View, scale: float) -> View:
    """A smaller draft of a view that follows a hand that turns."""
    edge = max(1, round(view.long_edge_px * min(scale, FOLLOWING_SCALE)))
    return view.model_copy(update={"draft": True, "long_edge_px": edge})
