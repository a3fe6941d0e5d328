"""What arrays hold."""

from typing import TypeVar

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
Index = NDArray[np.intp]


T = TypeVar("T", np.float64, np.intp)


def distinct(*values: NDArray[T]) -> NDArray[T]:
    """All values of some arrays in order, each once. numpy's `unique` brings masked arrays with it, which start would wait for."""
    every = np.sort(np.concatenate(values))
    first = np.ones(len(every), bool)
    first[1:] = every[1:] != every[:-1]
    return every[first]
