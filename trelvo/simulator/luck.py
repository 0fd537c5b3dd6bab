"""Luck in small coins: draws in blocks, handed out one by one, so that a step costs microseconds."""

import numpy as np
import numpy.typing as npt

Array = npt.NDArray[np.float64]
BLOCK = 8192


class Luck:
    """Standard normals and uniforms from one generator, in an order that does not depend on who asks for how many."""

    def __init__(self, rng: np.random.Generator) -> None:
        self.rng = rng
        self._normals: Array = np.empty(0)
        self._plain: list[float] = []
        self._at = 0
        self._uniforms: Array = np.empty(0)
        self._uniform_at = 0

    def normal(self, mean: float, deviation: float) -> float:
        """One normal draw."""
        return mean + deviation * self.next_normal()

    def next_normal(self) -> float:
        """One standard normal."""
        if self._at >= self._normals.size:
            self._refill(1)
        self._at += 1
        return self._plain[self._at - 1]

    def normals(self, count: int) -> Array:
        """Standard normals, as many as asked for."""
        if self._at + count > self._normals.size:
            self._refill(count)
        self._at += count
        return self._normals[self._at - count : self._at]

    def uniforms(self, count: int) -> Array:
        """Uniform draws from 0 to 1."""
        if self._uniform_at + count > self._uniforms.size:
            self._uniforms, self._uniform_at = self.rng.random(max(BLOCK, count)), 0
        self._uniform_at += count
        return self._uniforms[self._uniform_at - count : self._uniform_at]

    def _refill(self, count: int) -> None:
        self._normals, self._at = self.rng.standard_normal(max(BLOCK, count)), 0
        self._plain = self._normals.tolist()
