"""The application and somebody signed in, as in tests/api."""

from tests.api.conftest import app, at, client, filled, station  # noqa: F401
