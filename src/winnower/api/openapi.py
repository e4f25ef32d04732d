"""``python -m winnower.api.openapi``: print the OpenAPI document the web client is generated from."""

from __future__ import annotations

import json

from winnower.api.app import make_app
from winnower.settings import load_settings
from winnower.store.database import Database


def document() -> str:
    """The document as text; no database is asked."""
    app = make_app(load_settings(), Database("mysql+pymysql://nobody@127.0.0.1:1/none"), run_jobs=False)
    return json.dumps(app.openapi(), indent=1, ensure_ascii=False) + "\n"


if __name__ == "__main__":
    print(document(), end="")
