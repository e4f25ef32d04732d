"""The OpenAPI document and the generated TypeScript client are those of the code as it is."""

from __future__ import annotations

import subprocess
import sys
import tempfile
from pathlib import Path

from winnower.api.openapi import document

WEB = Path(__file__).resolve().parents[1] / "web"


def main() -> int:
    with tempfile.TemporaryDirectory() as folder:
        made = Path(folder) / "schema.gen.ts"
        made_from = Path(folder) / "openapi.json"
        made_from.write_text(document(), encoding="utf-8")
        command = ["npx", "openapi-typescript", str(made_from), "-o", str(made)]
        subprocess.run(command, cwd=WEB, check=True, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
        pairs = ((made_from, WEB / "openapi.json"), (made, WEB / "src" / "api" / "schema.gen.ts"))
        stale = [kept.name for new, kept in pairs if new.read_text() != kept.read_text()]
    if stale:
        print(
            f"out of date: {', '.join(stale)}; run: python -m winnower.api.openapi > web/openapi.json && npm run types"
        )
    return 1 if stale else 0


if __name__ == "__main__":
    sys.exit(main())
