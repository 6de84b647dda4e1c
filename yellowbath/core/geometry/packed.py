"""A triangle mesh as text in a document: corners as float32 [m], faces as uint32, in base64."""

from __future__ import annotations

import base64
import binascii
from functools import lru_cache
from typing import TYPE_CHECKING

from yellowbath.core.errors import CaseError

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

MOST_FACES = 6000  # triangles that a document carries
_MOST_CORNERS = 3 * MOST_FACES


def pack(vertices: NDArray[np.float64], faces: NDArray[np.int64]) -> tuple[str, str]:
    """Corners (n, 3) [m] and faces (m, 3) as two texts."""
    raw = (vertices.astype("<f4").tobytes(), faces.astype("<u4").tobytes())
    one, other = (base64.b64encode(r).decode() for r in raw)
    return one, other


@lru_cache(maxsize=32)
def unpack(vertices: str, faces: str) -> tuple[NDArray[np.float64], NDArray[np.int64]]:
    """The mesh again; raises CaseError where the texts are none."""
    import numpy as np

    try:
        points = np.frombuffer(base64.b64decode(vertices, validate=True), "<f4")
        index = np.frombuffer(base64.b64decode(faces, validate=True), "<u4")
        corners = points.reshape(-1, 3).astype(float)
        triangles = index.reshape(-1, 3).astype(np.int64)
    except (binascii.Error, ValueError):
        raise _broken("it is cut short or was written by something else") from None
    if not 4 <= len(triangles) <= MOST_FACES or not 4 <= len(corners) <= _MOST_CORNERS:
        raise _broken(f"it has {len(triangles)} triangles; 4 to {MOST_FACES} are taken")
    if not np.isfinite(corners).all() or triangles.max() >= len(corners):
        raise _broken("it has corners that are no points")
    if (
        len(set(map(tuple, np.sort(_edges(triangles)[:, :2], axis=1).tolist()))) * 2
        != len(triangles) * 3
    ):
        raise _broken("it is not closed")
    return corners, triangles


def _edges(triangles: NDArray[np.int64]) -> NDArray[np.int64]:
    import numpy as np

    made: NDArray[np.int64] = np.concatenate([triangles[:, [a, b]] for a, b in
                                              ((0, 1), (1, 2), (2, 0))])  # fmt: skip
    return made


@lru_cache(maxsize=32)
def measured(vertices: str, faces: str) -> tuple[float, float, tuple[float, float, float]]:
    """Area [m2], volume [m3] and bounding box [m] of a packed mesh."""
    import numpy as np

    points, triangles = unpack(vertices, faces)
    c = points[triangles]
    cross = np.cross(c[:, 1] - c[:, 0], c[:, 2] - c[:, 0])
    area = float(np.linalg.norm(cross, axis=1).sum() / 2)
    volume = float(np.einsum("ij,ij->i", c[:, 0], cross).sum() / 6)
    x, y, z = (float(s) for s in np.ptp(points, axis=0))
    if volume <= 0 or min(x, y, z) <= 0:
        raise _broken("it has no inside")
    return area, volume, (x, y, z)


def _broken(why: str) -> CaseError:
    return CaseError(f"The mesh in the plan cannot be used: {why}.", remedy="Bring it in again.")
