"""Writes the OpenAPI document that the front end's types are made from."""

from __future__ import annotations

import json
import sys
from pathlib import Path
from typing import Any

from incudo.api.server import Settings, create_app


def document() -> dict[str, Any]:
    """The OpenAPI document; needs no database."""
    settings = Settings(database="mariadb+pymysql://nobody@127.0.0.1/none", secret="-", web=Path("."))  # noqa: S106
    app = create_app(settings)
    found: dict[str, Any] = app.api_doc
    return found


def text() -> str:
    """The document as it stands in the repository."""
    return json.dumps(document(), indent=1, sort_keys=True) + "\n"


if __name__ == "__main__":
    Path(sys.argv[1]).write_text(text())
