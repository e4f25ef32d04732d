"""Short ways to code over HTTP."""

from tests.api.test_corpus_station import done, ids


class Coding:
    """Short ways to code; codes by their names, texts by their titles."""

    def __init__(self, client, at):
        self.client, self.at = client, at

    def codes(self):
        return {one["name"]: one for one in self.client.get(f"{self.at}/codebook").json()["codes"]}

    def make(self, name, under=None, **more):
        parent = self.codes()[under]["id"] if under else None
        return done(
            self.client.post(f"{self.at}/codes", json={"name": name, "parent_id": parent, **more}), 201
        )["id"]

    def body(self, title):
        return self.client.get(f"{self.at}/texts/{ids(self.client, self.at)[title]}").json()["body"]

    def code(self, title, words, *codes, new=None, status=201):
        text_id, body = ids(self.client, self.at)[title], self.body(title)
        start = body.index(words)
        known = self.codes()
        return done(
            self.client.post(
                f"{self.at}/texts/{text_id}/passages",
                json={
                    "start": start,
                    "end": start + len(words),
                    "words": words,
                    "codes": [known[one]["id"] for one in codes],
                    "new": {"name": new} if new else None,
                },
            ),
            status,
        )

    def on(self, title):
        """(words, code, coder) of the passages of a text."""
        text_id, body = ids(self.client, self.at)[title], self.body(title)
        names = {one["id"]: name for name, one in self.codes().items()}
        found = self.client.get(f"{self.at}/texts/{text_id}/passages").json()["passages"]
        return [(body[p["start"] : p["end"]], names[p["code_id"]], p["coder"]) for p in found]

    def find(self, **asked):
        return done(self.client.post(f"{self.at}/passages/find", json=asked))

    def counts(self, **scope):
        names = {one["id"]: name for name, one in self.codes().items()}
        found = done(self.client.post(f"{self.at}/codebook/counts", json=scope))["codes"]
        return {names[one["id"]]: (one["passages"], one["texts"]) for one in found}
