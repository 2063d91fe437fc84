"""The OpenAPI document, printed: `python -m ferox.web.openapi`."""

from __future__ import annotations

import json
from pathlib import Path

from sqlalchemy import create_engine

from ferox.web.app import create_app


def openapi_document() -> str:
    """The interface's OpenAPI document as JSON text."""
    app = create_app(Path(), create_engine("sqlite://"))
    return json.dumps(app.document, indent=1, sort_keys=True) + "\n"


if __name__ == "__main__":
    print(openapi_document(), end="")
