"""A client that changes things as somebody does who has just looked at them."""

from typing import Any

from fastapi.testclient import TestClient

#: So many times a thing is looked at again; nobody else changes it meanwhile.
TRIES = 3


class JustLooked(TestClient):
    """Where a test says no revision, the present one is given: the server tells it with its refusal."""

    def post(self, url: str, **given: Any) -> Any:  # type: ignore[override]
        return self._on_present("POST", url, given)

    def patch(self, url: str, **given: Any) -> Any:  # type: ignore[override]
        return self._on_present("PATCH", url, given)

    def put(self, url: str, **given: Any) -> Any:  # type: ignore[override]
        return self._on_present("PUT", url, given)

    def delete(self, url: str, **given: Any) -> Any:  # type: ignore[override]
        return self._on_present("DELETE", url, given)

    def _on_present(self, method: str, url: str, given: dict[str, Any]) -> Any:
        body = given.get("json")
        said = "revision=" in url or (isinstance(body, dict) and {"revision", "seen"} & body.keys())
        answer = self.request(method, url, **given)
        detail = answer.json().get("detail", "") if answer.status_code == 422 else ""
        if said or not detail.startswith(("revision:", "seen:")):
            return answer
        if detail.startswith("seen:"):
            answer = self.request(method, url, **(given | {"json": body | {"seen": ""}}))
            seen = answer.json().get("current", {}).get("seen")
            return (
                answer
                if seen is None
                else self.request(method, url, **(given | {"json": body | {"seen": seen}}))
            )
        revision = 1
        for _ in range(TRIES):
            on = (
                {"json": body | {"revision": revision}}
                if body is not None
                else {"params": {"revision": revision}}
            )
            answer = self.request(method, url, **(given | on))
            current = answer.json().get("current") if answer.status_code == 409 else None
            if not current or "revision" not in current:
                break
            revision = int(current["revision"])
        return answer
