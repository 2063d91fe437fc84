"""A simulated embedding: words hashed to fixed directions, so that like texts lie near.

It stands in for an embedding model with no network. Texts that share words have vectors
with a small angle between them; it knows nothing of meaning.
"""

from __future__ import annotations

import hashlib
import re
from functools import lru_cache

import numpy as np
import numpy.typing as npt

SIZE = 256
"""Length of every vector."""
Vector = npt.NDArray[np.float32]


@lru_cache(maxsize=20_000)
def _word_direction(word: str) -> Vector:
    seed = int.from_bytes(hashlib.blake2b(word.encode(), digest_size=8).digest())
    drawn: Vector = np.random.default_rng(seed).standard_normal(SIZE).astype(np.float32)
    return drawn


def embed_text(text: str) -> Vector:
    """A text's vector, shape (SIZE,), of length 1; the same text always has the same."""
    words = re.findall(r"\w+", text.casefold())
    total: Vector = np.zeros(SIZE, dtype=np.float32)
    for word in words or [text]:
        # The start of a word stands for its other forms too.
        total = total + _word_direction(word) + _word_direction(word[:4])
    return total / np.linalg.norm(total)
