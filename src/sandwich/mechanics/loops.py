"""Small loops over arrays for the kernels: they compile in a fraction of the time of array expressions."""

from __future__ import annotations

import math

import numpy as np

from sandwich.core.compiled import kernel, large_kernel


@kernel
def filled(size, value):
    """A new vector of one value."""
    out = np.empty(size)
    for i in range(size):
        out[i] = value
    return out


@kernel
def fill(out, value):
    """One value in all places of a vector."""
    for i in range(out.size):
        out[i] = value


@kernel
def copy(source, out):
    """Copy a vector."""
    for i in range(out.size):
        out[i] = source[i]


@kernel
def fill_rows(out, value):
    """One value in all places of a matrix."""
    for i in range(out.shape[0]):
        for j in range(out.shape[1]):
            out[i, j] = value


@kernel
def copy_rows(source, out):
    """Copy the rows and columns that the source has."""
    for i in range(source.shape[0]):
        for j in range(source.shape[1]):
            out[i, j] = source[i, j]


@kernel
def largest(matrix):
    """Largest magnitude in a matrix."""
    out = 0.0
    for i in range(matrix.shape[0]):
        for j in range(matrix.shape[1]):
            out = max(out, abs(matrix[i, j]))
    return out


@kernel
def finite(vector):
    """Whether every value is a finite number."""
    total = 0.0
    for i in range(vector.size):
        total += vector[i]
    return abs(total) < np.inf


@large_kernel
def solve(matrix, right, size):
    """Solve a positive definite system in place by Cholesky; False where it is not."""
    for i in range(size):
        for j in range(i + 1):
            total = matrix[i, j]
            for k in range(j):
                total -= matrix[i, k] * matrix[j, k]
            if i == j:
                if total <= 0.0:
                    return False
                matrix[i, i] = math.sqrt(total)
            else:
                matrix[i, j] = total / matrix[j, j]
    for i in range(size):
        total = right[i]
        for k in range(i):
            total -= matrix[i, k] * right[k]
        right[i] = total / matrix[i, i]
    for i in range(size - 1, -1, -1):
        total = right[i]
        for k in range(i + 1, size):
            total -= matrix[k, i] * right[k]
        right[i] = total / matrix[i, i]
    return True
