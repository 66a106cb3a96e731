"""Inverse of symmetric matrices with no eigenvalue under one, by blocks.

NumPy inverts any matrix as a general one. Of a symmetric one half the work is enough, and by blocks nearly all of it
is products of matrices, which a processor does best. With A = [[P, B'], [B, Q]], X = B P^-1 and S = Q - X B' the
inverse is [[P^-1 + X' S^-1 X, -X' S^-1], [-S^-1 X, S^-1]] (Banachiewicz). Source: [4], appendix A.3.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

if TYPE_CHECKING:
    from ribpatch.core.geometry import Floats

_SMALL = 32  # rows under which the general inverse is quicker


def definite_inverse(matrix: Floats) -> Floats:
    """Inverses of symmetric positive definite matrices (.., n, n), in the units of one over theirs.

    Valid for matrices I + S K S, whose eigenvalues are one or more: errors grow with the square of the condition, so
    that a stiffness matrix is no case for it. Only the lower triangle's blocks are read. Raises
    ``numpy.linalg.LinAlgError`` where a block is singular.
    """
    count = matrix.shape[-1]
    if count <= _SMALL:
        return np.asarray(np.linalg.inv(matrix))
    half = count // 2
    beside = matrix[..., half:, :half]
    first = definite_inverse(matrix[..., :half, :half])
    spread = beside @ first
    last = definite_inverse(matrix[..., half:, half:] - spread @ beside.swapaxes(-1, -2))
    made = np.empty_like(matrix)
    both = last @ spread
    made[..., half:, half:] = last
    np.negative(both, out=made[..., half:, :half])
    made[..., :half, half:] = made[..., half:, :half].swapaxes(-1, -2)
    np.add(first, spread.swapaxes(-1, -2) @ both, out=made[..., :half, :half])
    return made
