"""Correspondence analysis of a table of counts."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np


@dataclass(frozen=True)
class Points:
    """Rows or columns, P of them, on A axes.

    mass          float (P): part of all counts
    at            float (P, A): principal coordinates
    contribution  float (P, A): part of the axis' inertia that is the point's
    quality       float (P, A): part of the point's inertia that lies on the axis (cos squared)
    inertia       float (P): the point's part of the whole inertia
    """

    mass: np.ndarray
    at: np.ndarray
    contribution: np.ndarray
    quality: np.ndarray
    inertia: np.ndarray


@dataclass(frozen=True)
class Correspondence:
    """inertia  float (A): principal inertias, falling; ``total`` their sum, chi-squared over the count of the table."""

    inertia: np.ndarray
    rows: Points
    columns: Points
    total: float

    @property
    def shares(self) -> np.ndarray:
        """Part of the whole inertia on each axis."""
        found: np.ndarray = self.inertia / self.total if self.total > 0 else np.zeros(len(self.inertia))
        return found


def correspondence(counts: np.ndarray) -> Correspondence:
    """``counts`` float (K, L), at least two rows and columns, none of them empty. Raises ValueError otherwise.

    The singular values of the standardised residuals (p_ij - r_i c_j) / sqrt(r_i c_j); both rows and columns in
    principal coordinates, so that distances among rows, and among columns, are chi-squared distances. Signs are such
    that the row with the largest part in an axis lies on its positive side.

    Source: Greenacre (2017), Correspondence Analysis in Practice, appendix A.

    >>> found = correspondence(np.array([[4, 2, 3, 2], [4, 3, 7, 4], [25, 10, 12, 4], [18, 24, 33, 13], [10, 6, 7, 2.]]))
    >>> found.inertia.round(4).tolist()
    [0.0748, 0.01, 0.0004]
    """
    n = np.asarray(counts, float)
    if n.ndim != 2 or min(n.shape) < 2 or (n.sum(0) <= 0).any() or (n.sum(1) <= 0).any():
        raise ValueError("two rows and columns at least, none of them empty")
    p = n / n.sum()
    r, c = p.sum(1), p.sum(0)
    u, singular, vt = np.linalg.svd((p - np.outer(r, c)) / np.sqrt(np.outer(r, c)), full_matrices=False)
    axes = min(n.shape) - 1
    u, singular, v = u[:, :axes], singular[:axes], vt[:axes].T
    sign = np.sign(u[np.abs(u).argmax(0), np.arange(axes)])
    u, v = u * sign, v * sign
    total = float((singular**2).sum())
    return Correspondence(singular**2, _points(u, singular, r, total), _points(v, singular, c, total), total)


def _points(vectors: np.ndarray, singular: np.ndarray, mass: np.ndarray, total: float) -> Points:
    at = vectors * singular / np.sqrt(mass)[:, None]
    squares = at**2
    own = squares.sum(1, keepdims=True)
    quality = np.divide(squares, own, out=np.zeros_like(squares), where=own > 1e-18)
    inertia = mass * own[:, 0] / total if total > 0 else np.zeros(len(mass))
    return Points(mass, at, vectors**2, quality, inertia)
