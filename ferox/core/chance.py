"""Seeded chance: the same seed and the same words give the same draw, in any order.

Draws are keyed by what they decide, not taken from one stream, so that two trials
side by side cannot disturb each other.
"""

from __future__ import annotations

import math
from hashlib import blake2b
from statistics import NormalDist

from ferox.formats.server import Latency

_P95 = NormalDist().inv_cdf(0.95)


def draw(seed: int, *words: object) -> float:
    """A number in [0, 1) that depends on the seed and the words alone."""
    text = "\x1f".join([str(seed), *map(str, words)]).encode()
    return int.from_bytes(blake2b(text, digest_size=7).digest()) / 2**56


def latency_s(latency: Latency | None, seed: int, *words: object) -> float:
    """Seconds that an answer takes: `ms` always, or log-normal with median and 95th percentile.

    A log-normal's median is exp(mu), its 95th percentile exp(mu + sigma·z(0.95)).
    """
    if latency is None:
        return 0.0
    if latency.ms is not None:
        return latency.ms / 1000
    if latency.median_ms is None:
        return 0.0
    spread = math.log((latency.p95_ms or latency.median_ms) / latency.median_ms) / _P95
    z = NormalDist().inv_cdf(min(max(draw(seed, *words), 1e-6), 1 - 1e-6))
    return latency.median_ms * math.exp(spread * z) / 1000
