"""Printing: how a plate's colours meet what lies on the sheet already."""

import numpy as np
from numba import njit
from numpy.typing import NDArray

from flinz.core.planes.filters import Plane
from flinz.core.stages.blend import mixed
from flinz.core.stages.grey import luminance_grey
from flinz.core.stages.ink import Colouring, Ink, rgb_of


def share_of(cover: Plane, where: Plane | None) -> Plane:
    """Ink (H, W) 0..1 where it may print; where: (H, W) share 0..1, or None for everywhere."""
    return cover if where is None else np.asarray(cover * where, np.float32)


def printed(
    under: NDArray[np.float32],
    cover: Plane,
    settings: Ink,
    where: Plane | None = None,
    photo: NDArray[np.float32] | None = None,
    is_solid: bool = False,
) -> NDArray[np.float32]:
    """A plate printed on what is there so far.

    under: float32 0..1, sRGB-encoded, (H, W, 3), or (H, W) where paper and inks are neutral.
    cover: (H, W) ink 0..1. where: (H, W) share 0..1 that may print. photo: (H, W, 3), for its
    own colours. is_solid: whether ink is full wherever it is, so that cover is the share of a
    pixel on which it lies; printed several times it stays that. Returns the shape of under.
    The compositing formula of W3C Compositing and Blending Level 1 over an opaque sheet:
    under (1 - a) + a B(under, source).
    """
    if is_solid and stays_where_it_lies(settings):
        full = printed(under, np.ones_like(cover), settings, where, photo)
        return np.asarray(under + (cover if under.ndim == 2 else cover[..., None]) * (full - under))
    if settings.is_plain:
        share = share_of(cover, where)
        return _left(under.reshape(share.size, -1), share, settings).reshape(under.shape)
    source, share = _given(cover, settings, where, photo)
    if under.ndim == 2:
        source = source[..., 0]
    alpha = share * np.float32(settings.opacity)
    return mixed(under, source, alpha, settings.blend, round(settings.times))


def laid_by(
    cover: Plane,
    settings: Ink,
    where: Plane | None = None,
    photo: NDArray[np.float32] | None = None,
) -> tuple[NDArray[np.float32], NDArray[np.float32]]:
    """A plate's own colours, (H, W, 3), and how much of each pixel it covers, (H, W, 1)."""
    source, share = _given(cover, settings, where, photo)
    alpha = np.asarray(share * np.float32(settings.opacity), np.float32)
    return np.broadcast_to(source, (*cover.shape, 3)), alpha[..., None]


def _given(
    cover: Plane, settings: Ink, where: Plane | None, photo: NDArray[np.float32] | None
) -> tuple[NDArray[np.float32], Plane]:
    """The colours that a plate prints, (3,) or (H, W, 3), and the share of each pixel it takes."""
    if settings.colouring == Colouring.TWO_COLOUR:
        return ladder_colours(cover, settings.by_tone), np.ones_like(
            cover
        ) if where is None else where
    share = share_of(cover, where)
    if settings.colouring == Colouring.PHOTO and photo is not None:
        return saturated(photo, settings.saturation), share
    return rgb_of(settings.colour), share


def stays_where_it_lies(settings: Ink) -> bool:
    """Whether solid ink printed several times would otherwise spread over pixels that it fills in
    part. Lights of two colours lie in all of a pixel.
    """
    return round(settings.times) > 1 and settings.colouring != Colouring.TWO_COLOUR


def left_by(
    cover: Plane, settings: Ink, where: Plane | None = None, ndim: int = 3, is_solid: bool = False
) -> NDArray[np.float32]:
    """What a plain ink leaves of what lies beneath: a factor, (H, W), or (H, W, 3) with ndim 3."""
    channels = () if ndim == 2 else (3,)
    white = np.ones((*cover.shape, *channels), np.float32)
    return printed(white, cover, settings, where, is_solid=is_solid)


def _left(under: NDArray[np.float32], share: Plane, settings: Ink) -> NDArray[np.float32]:
    """(N, channels) of a sheet as a plain ink leaves it."""
    taken = (1 - rgb_of(settings.colour)[: under.shape[1]]) * np.float32(settings.opacity)
    out = np.empty(under.shape, np.float32)
    pixels = np.ascontiguousarray(share, np.float32).reshape(-1)
    times = np.int64(round(settings.times))
    _multiplied(np.ascontiguousarray(under, np.float32), pixels, taken, times, out)
    return out


@njit(cache=True, nogil=True, error_model="numpy")
def _multiplied(under, share, taken, times, out) -> None:  # type: ignore[no-untyped-def]
    for i in range(len(share)):
        for c in range(len(taken)):
            once = np.float32(1) - share[i] * taken[c]
            left = once
            for _ in range(times - 1):
                left *= once
            out[i, c] = under[i, c] * left


def ladder_colours(cover: Plane, colours: NDArray[np.float32]) -> NDArray[np.float32]:
    """Colours of a ladder, (K, 3) at even steps, by how much ink there is; (H, W, 3)."""
    out = np.empty((cover.size, 3), np.float32)
    _on_ladder(np.ascontiguousarray(cover, np.float32).reshape(-1), colours, out)
    return out.reshape(*cover.shape, 3)


@njit(cache=True, nogil=True, error_model="numpy")
def _on_ladder(cover, colours, out) -> None:  # type: ignore[no-untyped-def]
    most = len(colours) - 1
    for i in range(len(cover)):
        rung = most * cover[i]
        below = int(rung) if rung > 0 else 0
        below = below if below < most else most - 1
        above = rung - below
        above = 0.0 if above < 0 else 1.0 if above > 1 else above
        for c in range(3):
            low = colours[below, c]
            out[i, c] = low + (colours[below + 1, c] - low) * above


def saturated(photo: NDArray[np.float32], amount: float) -> NDArray[np.float32]:
    """The photo's colours, (..., 3), weaker or stronger; 1 leaves them."""
    if amount == 1:
        return photo
    grey = luminance_grey(photo)[..., None]
    return np.asarray(np.clip(grey + (photo - grey) * np.float32(amount), 0, 1), np.float32)
