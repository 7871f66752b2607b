"""Grids that are folded at their middle: what is laid on one side is laid on the other."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from sandwich.design.layout.candidates import Box


@dataclass(frozen=True)
class Fold:
    """How a grid of squares is folded.

    Attributes
    ----------
    count : tuple of int
        Squares of the whole grid along the bars and across them.
    axes : tuple of bool
        Whether it is folded at the middle along the bars, and at the middle across them. The middle square of an odd
        number lies on itself.
    """

    count: tuple[int, int]
    axes: tuple[bool, bool] = (False, False)

    @property
    def shape(self) -> tuple[int, int]:
        """Squares of the folded grid."""
        n, m = (-(-c // 2) if own else c for c, own in zip(self.count, self.axes, strict=True))
        return n, m

    def folded(self, values: NDArray[Any], join: Callable[[Any, Any], Any]) -> NDArray[Any]:
        """Values of the whole grid on the folded one, those of squares that lie on each other joined."""
        for axis, own in enumerate(self.axes):
            if own:
                values = np.take(join(values, np.flip(values, axis)), np.arange(self.shape[axis]), axis)
        return values

    def boxes(self, box: Box) -> list[Box]:
        """Rectangles of the whole grid that one of the folded grid stands for; one at the fold goes across it."""
        along, across = self._spans(box[:2], 0), self._spans(box[2:], 1)
        return [(*a, *b) for a in along for b in across]

    def _spans(self, span: tuple[int, int], axis: int) -> list[tuple[int, int]]:
        (a, b), n = span, self.count[axis]
        if not self.axes[axis]:
            return [(a, b)]
        return [(a, n - a)] if b == self.shape[axis] else [(a, b), (n - b, n - a)]
