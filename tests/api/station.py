"""Short ways to ask the dictionary station over HTTP."""


class Station:
    """Short ways to ask; ``ids`` of categories and terms by name."""

    def __init__(self, client, at, dictionary):
        self.client, self.at, self.id = client, f"{at}/dictionaries", dictionary
        self.here, self.review = f"{self.at}/{dictionary}", f"{at}/review"

    def tree(self):
        return self.client.get(self.here).json()["categories"]

    def category(self, name):
        return next(one for one in self.tree() if one["name"] == name)

    def term(self, source):
        return next(term for one in self.tree() for term in one["terms"] if term["source"] == source)

    def post(self, path, status=200, **body):
        answer = self.client.post(f"{self.here}/{path}", json=body)
        assert answer.status_code == status, answer.text
        return answer.json() if answer.content else None

    def judge(self, category, path, status=200, **body):
        """Ask the review of a category."""
        answer = self.client.post(f"{self.review}/category/{category}/{path}", json=body)
        assert answer.status_code == status, answer.text
        return answer.json() if answer.content else None

    def add(self, category, *terms):
        return self.post(
            f"categories/{self.category(category)['id']}/terms",
            201,
            terms=[{"source": t} if isinstance(t, str) else t for t in terms],
        )

    def shape(self):
        by_id = {one["id"]: one["name"] for one in self.tree()}
        return [
            (one["name"], by_id.get(one["parent_id"]), sorted(t["source"] for t in one["terms"]))
            for one in self.tree()
        ]
