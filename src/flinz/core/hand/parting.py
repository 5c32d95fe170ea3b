"""Which regions of a photo are its subject, by a first guess and by keep and drop strokes."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.cluster.vq import kmeans2
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import breadth_first_order, connected_components, dijkstra, maximum_flow
from scipy.spatial import cKDTree

from flinz.core.hand.likeness import Sense, likeness
from flinz.core.hand.regions import Regions

Shares = NDArray[np.float32]
Likeness = NDArray[np.float64]
Chosen = NDArray[np.bool_]

# Kinds of colour on each side.
KINDS = 8
# Once there is a cut, what is on its two sides is looked at as well, with so much spread at least.
SPREAD = 0.05
# Where one side is so many times (a power of e) as dense as the other, more says no more.
MOST_SAID = 3.0


@dataclass(frozen=True)
class Manner:
    """How a cut comes about: rounds that look at both of its sides, and what these say."""

    rounds: int
    sides_part: float


# Without a stroke, what is surely guessed speaks for the whole picture; there is little to hold on
# to, and more is left to the two sides.
GUESSED = Manner(3, 0.5)
STROKED = Manner(2, 0.4)


@dataclass(frozen=True)
class Voice:
    """How stroked regions speak for others.

    sense: for which, by likeness. expected: how surely what was thought first holds where none is
    alike. farthest: a longer way to them, in steps of colour, leads nowhere. like, way, first: the
    shares of likeness, of that way and of what was thought first.
    """

    sense: Sense
    expected: float
    farthest: float
    like: float
    way: float
    first: float


# Strokes where all was well already tell what is meant: they speak for the whole picture, too.
TELLING = Voice(Sense(reach=1.3, away=1.0, doubt=0.1), 0.0, 1e6, like=0.6, way=0.2, first=0.2)
# Strokes where it was not mend a place: they speak for what is much like them and not far away.
MENDING = Voice(Sense(reach=0.6, away=4.0, doubt=0.5), 0.8, 3.0, like=0.5, way=0.5, first=0.0)
# Of the picture: strokes that cover as much tell half. Under the second share nothing is told.
LITTLE, UNTOLD = 0.001, 0.1
# What is more likely than this is surely subject, or backdrop.
SURE = 0.7
# How much of a guess its own cut is: strokes are made by someone who saw it.
SEEN = 0.52
# How much it costs to part two pixels where there is no edge at all, against what they say.
TIE = 9.0
# Of the whole subject, or backdrop: a smaller piece that no stroke touches is none, unless it is of
# the subject and lies within so many of its own widths of the rest.
LEAST_PIECE, LEAST_HOLE, BESIDE = 0.03, 0.0005, 1.5
# Capacities are whole numbers.
STEPS, CERTAIN = 100, 10_000_000


def settled(regions: Regions, hunch: Shares) -> Shares:
    """How likely each region is subject before any stroke, (N,) float32 0..1; over 0.5 it is cut
    out. hunch: (N,) 0..1, how likely it is at first sight.
    """
    said = _guessed(regions, hunch)
    nowhere = np.zeros(len(said), bool)
    subject, _ = _cut_in_rounds(regions, said, np.zeros_like(said), nowhere, nowhere, GUESSED)
    likely = (1 - SEEN) * said + SEEN * np.where(subject, 1, -1)
    return np.asarray((1 + likely) / 2, np.float32)


def parted(regions: Regions, keep: Chosen, drop: Chosen, guess: Shares) -> tuple[Chosen, Likeness]:
    """The regions, (N,) bool, of the subject, and how much each speaks for it, (N,) -1..1.

    keep, drop: (N,) bool, touched by strokes. guess: (N,) 0..1, as settled. Strokes where it is
    right tell what is meant, strokes where it is not mend a place of it. A minimum cut (Y. Boykov
    and M.-P. Jolly, 2001) over regions: what they say is their likeness to what was stroked, and
    the way there across edges (X. Bai and G. Sapiro, 2007), then also against both sides of the cut
    (C. Rother, V. Kolmogorov and A. Blake, 2004); what ties neighbours is the edge between them.
    """
    if not (keep.any() or drop.any()):
        return guess > 0.5, 2 * guess.astype(np.float64) - 1
    said, near = _said(regions, keep, drop, guess)
    return _cut_in_rounds(regions, said, near, keep, drop, STROKED)


def _cut_in_rounds(
    regions: Regions, said: Likeness, near: Likeness, keep: Chosen, drop: Chosen, manner: Manner
) -> tuple[Chosen, Likeness]:
    subject, both = _cut(regions, said, keep, drop), said
    for _ in range(manner.rounds):
        if subject.all() or not subject.any():
            return subject, both
        density = [_density(regions, side) for side in (subject, ~subject)]
        sides = _limited(np.log((density[0] + 1e-4) / (density[1] + 1e-4)))
        # Close to a stroke it is the stroke that counts, though all else be of another mind.
        weight = manner.sides_part * (1 - near)
        both = (1 - weight) * said + weight * sides
        subject = _cut(regions, both, keep, drop)
    return _in_pieces(regions, subject, keep, drop), both


def _cut(regions: Regions, said: Likeness, keep: Chosen, drop: Chosen) -> Chosen:
    """The cheapest parting, given how much each region speaks for the subject, a pixel."""
    count = len(said)
    source, sink = count, count + 1
    plain = max(float(np.median(regions.walls)) if len(regions.walls) else 0.0, 0.3)
    tie = TIE * regions.lengths * (np.exp(-regions.walls / (1.5 * plain)) + 0.02)
    weight = said * regions.sizes
    to_subject = np.where(keep, CERTAIN, np.maximum(weight, 0) * STEPS)
    to_backdrop = np.where(drop, CERTAIN, np.maximum(-weight, 0) * STEPS)
    nodes = np.arange(count)
    first, second = regions.pairs.T
    ends = np.concatenate([np.full(count, source), nodes, first, second])
    others = np.concatenate([nodes, np.full(count, sink), second, first])
    capacity = np.concatenate([to_subject, to_backdrop, tie * STEPS, tie * STEPS])
    graph = coo_matrix(
        (np.rint(capacity).astype(np.int32), (ends, others)), shape=(count + 2, count + 2)
    ).tocsr()
    left = graph - maximum_flow(graph, source, sink, method="dinic").flow
    left.data = (left.data > 0).astype(np.int8)
    left.eliminate_zeros()
    subject = np.zeros(count + 2, bool)
    subject[breadth_first_order(left, source, return_predecessors=False)] = True
    return subject[:count]


def _guessed(regions: Regions, hunch: Shares) -> Likeness:
    """How much each region speaks for the subject, -1..1 a pixel, with no stroke."""
    first = 2 * hunch.astype(np.float64) - 1
    ours, theirs = hunch > SURE, hunch < 1 - SURE
    if not ours.any() or not theirs.any():
        return first
    ways = [_way(regions, side, TELLING.farthest) for side in (ours, theirs)]
    said, _ = _spoken(regions, ours, theirs, first, ways, TELLING)
    return said


def _said(regions: Regions, keep: Chosen, drop: Chosen, guess: Shares) -> tuple[Likeness, Likeness]:
    """How much each region speaks for the subject, -1..1 a pixel, and how surely, 0..1, it is
    reached from strokes of one side alone.
    """
    first = 2 * guess.astype(np.float64) - 1
    telling = _telling(regions, keep, drop, guess > 0.5)
    voices = [each for each in ((1 - telling, MENDING), (telling, TELLING)) if each[0] > 0]
    # No farther than anyone looks.
    farthest = max(voice.farthest for _, voice in voices)
    ways = [_way(regions, side, farthest) for side in (keep, drop)]
    said, near = np.zeros_like(first), np.zeros_like(first)
    for share, voice in voices:
        speaks, way = _spoken(regions, keep, drop, first, ways, voice)
        said += share * speaks
        near += share * np.abs(way)
    return said, near


def _telling(regions: Regions, keep: Chosen, drop: Chosen, guessed: Chosen) -> float:
    """How much strokes tell what is meant, 0..1: by what of both sides' went where all was well."""
    little = LITTLE * float(regions.sizes.sum())
    share = 1.0
    for stroked, well in ((keep, guessed), (drop, ~guessed)):
        area = float(regions.sizes[stroked].sum())
        share *= float(regions.sizes[stroked & well].sum()) / (area + little)
    return max((share - UNTOLD) / (1 - UNTOLD), 0.0)


def _spoken(
    regions: Regions,
    ours: Chosen,
    theirs: Chosen,
    first: Likeness,
    ways: list[Likeness],
    voice: Voice,
) -> tuple[Likeness, Likeness]:
    """What two sides, not both empty, say of all, and -1..1 which way to them is the shorter."""
    expected = voice.expected * first
    like = likeness(regions.features, regions.places, ours, theirs, expected, voice.sense)
    to_ours, to_theirs = (np.minimum(each, voice.farthest) for each in ways)
    way = (to_theirs - to_ours) / np.maximum(to_theirs + to_ours, 1e-6)
    return voice.like * like + voice.way * way + voice.first * first, way


def _limited(values: Likeness) -> Likeness:
    return np.asarray(np.clip(values, -MOST_SAID, MOST_SAID) / MOST_SAID, np.float64)


def _kinds(held: Shares, most: int) -> tuple[Likeness, NDArray[np.int32]]:
    values = held.astype(np.float64)
    if len(values) <= most:
        return values, np.arange(len(values), dtype=np.int32)
    centres, labels = kmeans2(values, most, minit="++", rng=0)
    return centres, labels


def _density(regions: Regions, side: Chosen) -> Likeness:
    """How dense a side is at each region's features: a mixture of normal distributions."""
    held, sizes = regions.features[side].astype(np.float64), regions.sizes[side]
    centres, labels = _kinds(regions.features[side], KINDS)
    found = np.zeros(len(regions.sizes))
    for kind, centre in enumerate(centres):
        of_kind = labels == kind
        if not of_kind.any():
            continue
        off = held[of_kind] - centre
        spread = off.T @ off / of_kind.sum() + SPREAD * np.eye(len(centre))
        apart = regions.features - centre
        power = np.einsum("ij,ij->i", apart @ np.linalg.inv(spread), apart)
        share = sizes[of_kind].sum() / sizes.sum()
        found += share * np.exp(-power / 2) / np.sqrt(np.linalg.det(spread))
    return found


def _way(regions: Regions, side: Chosen, farthest: float) -> Likeness:
    """How far each region is from a side across edges and colours, at most so far."""
    if not side.any():
        return np.full(len(side), farthest)
    begin = np.flatnonzero(side)
    found = dijkstra(regions.steps, directed=False, indices=begin, min_only=True, limit=farthest)
    return np.asarray(np.minimum(found, farthest), np.float64)


def _in_pieces(regions: Regions, subject: Chosen, keep: Chosen, drop: Chosen) -> Chosen:
    """The subject without crumbs that no stroke asks for, on both sides."""
    first, second = regions.pairs.T
    _, labels = connected_components(
        regions.joined((subject[first] == subject[second]).astype(np.float64)), directed=False
    )
    sizes = np.bincount(labels, regions.sizes)
    of_subject = np.bincount(labels, subject) > 0
    wanted = np.bincount(labels, np.where(subject, keep, drop)) > 0
    whole = np.where(of_subject, sizes[of_subject].sum(), sizes[~of_subject].sum())
    # Holes may be small: light between two legs.
    crumbs = (sizes < np.where(of_subject, LEAST_PIECE, LEAST_HOLE) * whole) & ~wanted
    held = subject & ~crumbs[labels]
    if held.any():
        # A stalk goes on behind a leaf; a pebble lies by itself.
        edge = max(regions.labels.shape)
        away, _ = cKDTree(regions.places[held] * edge).query(regions.places * edge)
        off = np.full(len(sizes), np.inf)
        np.minimum.at(off, labels, away - np.sqrt(regions.sizes.mean()))
        crumbs &= ~of_subject | (off > BESIDE * np.sqrt(sizes))
    return np.where(crumbs[labels], ~subject, subject)
