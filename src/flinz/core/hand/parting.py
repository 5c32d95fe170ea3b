"""Which regions of a photo are its subject, by a first guess and by keep and drop strokes."""

import numpy as np
from numpy.typing import NDArray
from scipy.cluster.vq import kmeans2
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import breadth_first_order, connected_components, dijkstra, maximum_flow
from scipy.spatial import cKDTree

from flinz.core.hand.likeness import likeness, traits_of
from flinz.core.hand.regions import Regions

Shares = NDArray[np.float32]
Likeness = NDArray[np.float64]
Chosen = NDArray[np.bool_]

# Kinds of colour on each side.
KINDS = 8
# What likeness, the way to the strokes and the first guess say.
LIKE_PART, WAY_PART, GUESS_PART = 3.0, 1.0, 0.3
# Once there is a cut, what is on its two sides is looked at as well: so often, with that weight.
ROUNDS, ROUND_PART, SPREAD = 2, 0.4, 0.05
# Where one side is so many times (a power of e) as dense as the other, more says no more.
MOST_SAID = 3.0
# Without a stroke there is less to hold on to, and more is left to them.
GUESS_ROUNDS, GUESS_ROUND_PART = 3, 0.5
# How much it costs to part two pixels where there is no edge at all, against what they say.
TIE = 9.0
# Of the whole subject, or backdrop: a smaller piece that no stroke touches is none, unless it is of
# the subject and lies within so many of its own widths of the rest.
LEAST_PIECE, LEAST_HOLE, BESIDE = 0.03, 0.0005, 1.5
# Capacities are whole numbers.
STEPS, CERTAIN = 100, 10_000_000


def parted(regions: Regions, keep: Chosen, drop: Chosen, guess: Shares) -> Chosen:
    """The regions, (N,) bool, of the subject.

    keep, drop: (N,) bool, touched by strokes. guess: (N,) 0..1, how likely each is subject before
    any stroke. A minimum cut (Y. Boykov and M.-P. Jolly, 2001) over regions: what they say is
    their likeness to what was stroked, and the way there across edges (X. Bai and
    G. Sapiro, 2007), then also against both sides of the cut (C. Rother, V. Kolmogorov and A.
    Blake, 2004); what ties neighbours is the edge between them.
    """
    said, near = _said(regions, keep, drop, guess)
    subject = _cut(regions, said, keep, drop)
    is_stroked = bool(keep.any() or drop.any())
    rounds, part = (ROUNDS, ROUND_PART) if is_stroked else (GUESS_ROUNDS, GUESS_ROUND_PART)
    for _ in range(rounds):
        if subject.all() or not subject.any():
            return subject
        density = [_density(regions, side) for side in (subject, ~subject)]
        sides = _limited(np.log((density[0] + 1e-4) / (density[1] + 1e-4)))
        # Close to a stroke it is the stroke that counts, though all else be of another mind.
        weight = part * (1 - near)
        both = (1 - weight) * said + weight * sides
        subject = _cut(regions, both, keep, drop)
    return _in_pieces(regions, subject, keep, drop)


def _cut(regions: Regions, said: Likeness, keep: Chosen, drop: Chosen) -> Chosen:
    """The cheapest parting, given how much each region speaks for the subject, a pixel."""
    count = len(said)
    source, sink = count, count + 1
    plain = max(float(np.median(regions.walls)), 0.3)
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


def _said(regions: Regions, keep: Chosen, drop: Chosen, guess: Shares) -> tuple[Likeness, Likeness]:
    """How much each region speaks for the subject, -1..1 a pixel, and how surely, 0..1, it is
    reached from strokes of one side alone.
    """
    hunch = 2 * guess.astype(np.float64) - 1
    # With strokes on one side only, what was guessed stands for the other.
    ours = keep if keep.any() else (guess > 0.7) & ~drop
    theirs = drop if drop.any() else (guess < 0.3) & ~keep
    if not ours.any() or not theirs.any():
        return hunch, np.zeros_like(hunch)
    like = likeness(traits_of(regions.features, regions.places), ours, theirs)
    to_ours, to_theirs = (_way(regions, side) for side in (ours, theirs))
    way = (to_theirs - to_ours) / np.maximum(to_theirs + to_ours, 1e-6)
    guess_part = GUESS_PART if keep.any() and drop.any() else 1.0
    total = LIKE_PART * like + WAY_PART * way + guess_part * hunch
    near = np.abs(way) if keep.any() or drop.any() else np.zeros_like(way)
    return total / (LIKE_PART + WAY_PART + guess_part), near


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
        power = np.einsum("ij,jk,ik->i", apart, np.linalg.inv(spread), apart)
        share = sizes[of_kind].sum() / sizes.sum()
        found += share * np.exp(-power / 2) / np.sqrt(np.linalg.det(spread))
    return found


def _way(regions: Regions, side: Chosen) -> Likeness:
    """How far each region is from a side across edges and colours."""
    first, second = regions.pairs.T
    apart = np.sqrt(((regions.places[first] - regions.places[second]) ** 2).sum(1))
    graph = regions.joined(regions.differ + 8.0 * apart + 1e-4)
    found = dijkstra(graph, directed=False, indices=np.flatnonzero(side), min_only=True)
    return np.asarray(np.minimum(found, 1e6), np.float64)


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
