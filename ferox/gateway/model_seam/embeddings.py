"""The embeddings interface, answered by a stand-in."""

from __future__ import annotations

import base64
import json
from typing import Any

from ferox.core.tokens import estimate_tokens

PATH = "embeddings"


def texts_of(body: dict[str, Any]) -> list[str]:
    """The texts of a request; one that is given as tokens is told by them.

    Raises:
        KeyError: it has no `input`.
        TypeError: its `input` is neither a text nor a list.
    """
    given = body["input"]
    texts = [given] if isinstance(given, str) else list(given)
    return [t if isinstance(t, str) else json.dumps(t) for t in texts]


def embeddings_answer(model: str, texts: list[str], body: dict[str, Any]) -> dict[str, Any]:
    """The answer: a vector for each text, as numbers or packed, of the length asked for."""
    # It brings NumPy, which is slow to import, and few agents ask for embeddings.
    from ferox.stand_in.embedding import embed_text

    as_text = body.get("encoding_format") == "base64"
    size = body.get("dimensions")
    data = []
    for index, text in enumerate(texts):
        vector = embed_text(text)[: size if isinstance(size, int) and size > 0 else None]
        encoded: Any = vector.tolist()
        if as_text:
            encoded = base64.b64encode(vector.astype("<f4").tobytes()).decode()
        data.append({"object": "embedding", "index": index, "embedding": encoded})
    count = sum(estimate_tokens(len(text)) for text in texts)
    usage = {"prompt_tokens": count, "total_tokens": count}
    return {"object": "list", "data": data, "model": model, "usage": usage}
