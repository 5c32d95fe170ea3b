"""Figures of tracings: how many shapes and curves, how long, how near to the drawing."""

from collections.abc import Sequence

from pydantic import BaseModel

from flinz.core.trace.tracing import Tracing


class TraceFigures(BaseModel):
    """shapes, segments (curves and lines); length of all outlines and the largest distance of an
    outline of the drawing from its curve, mm.
    """

    shapes: int
    segments: int
    outline_mm: float
    largest_distance_mm: float


def figures_of(tracings: Sequence[Tracing]) -> TraceFigures:
    """Figures of several tracings together."""
    return TraceFigures(
        shapes=sum(len(each) for each in tracings),
        segments=sum(len(each.curves) for each in tracings),
        outline_mm=round(sum(each.outline_mm for each in tracings), 3),
        largest_distance_mm=round(
            max((each.largest_distance_mm for each in tracings), default=0.0), 5
        ),
    )
