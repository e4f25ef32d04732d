"""``python -m winnower``."""

import sys

from winnower.jobs.forking import forks

if sys.argv[1:2] == ["import"]:  # what reads files loads while the command line does
    forks.warm()

from winnower.cli.main import app  # noqa: E402

app()
