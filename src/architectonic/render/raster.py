"""Triangles into pixels with numbers alone: small pictures of bodies, in any thread, without a 3D library."""

from __future__ import annotations

import numpy as np

STEPS = 2**31 - 1
"""Of depth, from the nearest point to the farthest."""
NOTHING = np.iinfo(np.int64).max


def raster(flat: np.ndarray, width: int, height: int) -> tuple[np.ndarray, np.ndarray]:
    """Which triangle is seen in each pixel: row by row, by a buffer of depths (Catmull 1974).

    Args:
        flat: corners on the screen, (n, 3, 3): pixels to the right and down, and the depth, larger farther away.

    Returns:
        (height, width) places in `flat`, -1 where there is none; and the depth there, infinite where there is none.
    """
    seen = np.full(width * height, NOTHING, dtype=np.int64)
    flat = np.asarray(flat, dtype=float)
    if len(flat):
        first, last = (flat[:, :, 1].min(axis=1), flat[:, :, 1].max(axis=1))
        of, row = _runs(_pixel(first, 0, height), _pixel(last, -1, height - 1))
        start, end = _spans(flat[of], row + 0.5)
        pair, column = _runs(_pixel(start, 0, width), _pixel(end, -1, width - 1))
        of, row = of[pair], row[pair]
        depth = flat[:, :, 2]
        near, room = depth.min(), max(float(np.ptp(depth)), 1e-12)
        share = np.clip((_depth(flat, of, column + 0.5, row + 0.5) - near) / room, 0, 1)
        np.minimum.at(seen, row * width + column, (share * STEPS).astype(np.int64) << 32 | of)
    found = np.where(seen == NOTHING, -1, seen & 0xFFFFFFFF)
    place = np.flatnonzero(found >= 0)
    behind = np.full(width * height, np.inf)
    if len(place):
        behind[place] = _depth(flat, found[place], place % width + 0.5, place // width + 0.5)
    return found.reshape(height, width), behind.reshape(height, width)


def traced(lines: np.ndarray, depth: np.ndarray, slack: float) -> tuple[np.ndarray, np.ndarray]:
    """Pixels of lines on the screen that nothing hides.

    Args:
        lines: (n, 2, 3) ends, as corners of triangles; depth: of what is drawn already; slack: how far a line may lie behind
            that and still be seen.

    Returns:
        Their rows and columns.
    """
    high, wide = depth.shape
    long = np.abs(lines[:, 1, :2] - lines[:, 0, :2]).max(axis=1)
    of, step = _runs(np.zeros(len(lines), np.int64), np.ceil(long).astype(np.int64))
    share = (step / np.maximum(np.ceil(long), 1)[of])[:, None]
    spots = lines[of, 0] * (1 - share) + lines[of, 1] * share
    column, row = np.floor(spots[:, 0]).astype(np.int64), np.floor(spots[:, 1]).astype(np.int64)
    inside = (column >= 0) & (column < wide) & (row >= 0) & (row < high)
    row, column, spots = row[inside], column[inside], spots[inside]
    seen = spots[:, 2] <= depth[row, column] + slack
    return row[seen], column[seen]


def _pixel(at: np.ndarray, more: int, most: int) -> np.ndarray:
    """The first pixel whose middle lies at or after a place (more 0), or the last one before it (more -1)."""
    at = np.where(np.isfinite(at), at, -1.0)
    pixel: np.ndarray = np.clip(np.ceil(at - 0.5) + more, more, most).astype(np.int64)
    return pixel


def _runs(first: np.ndarray, last: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """All whole numbers from each first to each last: which run each is of, and the number."""
    counts = np.maximum(last - first + 1, 0)
    of = np.repeat(np.arange(len(first)), counts)
    return of, np.arange(len(of)) - np.repeat(np.cumsum(counts) - counts, counts) + first[of]


def _spans(corners: np.ndarray, y: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Where lines across the screen enter and leave triangles (n, 3, 3); infinite where they do not meet."""
    start, end = np.full(len(y), np.inf), np.full(len(y), -np.inf)
    for k in range(3):
        a, b = corners[:, k, :2], corners[:, (k + 1) % 3, :2]
        rise = b[:, 1] - a[:, 1]
        crossed = (np.minimum(a[:, 1], b[:, 1]) <= y) & (y <= np.maximum(a[:, 1], b[:, 1])) & (rise != 0)
        with np.errstate(divide="ignore", invalid="ignore"):
            x = a[:, 0] + (y - a[:, 1]) / rise * (b[:, 0] - a[:, 0])
        start = np.where(crossed, np.minimum(start, x), start)
        end = np.where(crossed, np.maximum(end, x), end)
    return start, end


def _depth(flat: np.ndarray, of: np.ndarray, x: np.ndarray, y: np.ndarray) -> np.ndarray:
    """Depth of points in the planes of their triangles."""
    a, u, v = flat[:, 0], flat[:, 1] - flat[:, 0], flat[:, 2] - flat[:, 0]
    area = u[:, 0] * v[:, 1] - u[:, 1] * v[:, 0]
    area = np.where(np.abs(area) < 1e-12, 1e-12, area)
    right = (u[:, 2] * v[:, 1] - u[:, 1] * v[:, 2]) / area
    down = (u[:, 0] * v[:, 2] - u[:, 2] * v[:, 0]) / area
    found = a[of, 2] + right[of] * (x - a[of, 0]) + down[of] * (y - a[of, 1])
    kept: np.ndarray = np.clip(found, flat[of, :, 2].min(axis=1), flat[of, :, 2].max(axis=1))
    return kept
