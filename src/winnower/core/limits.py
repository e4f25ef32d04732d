"""How long names may be, wherever they come from."""

MAX_TITLE = 500
MAX_LABEL = 300
