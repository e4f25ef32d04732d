"""Valid bodies for the calls of the API document, made from their schemas, with ids put where they name something."""

import itertools
import json
from pathlib import Path

from winnower.api.wall import TABLE_OF, table_of

DOCUMENT = json.loads((Path(__file__).parents[2] / "web" / "openapi.json").read_text())
SCHEMAS = DOCUMENT["components"]["schemas"]
#: So many bodies of one call at most: each alternative of a choice is in one of them.
MOST_BODIES = 40
WORDS = {"date": "2031-06-03", "date-time": "2031-06-03T10:00:00Z"}


def resolved(schema):
    while "$ref" in schema:
        schema = SCHEMAS[schema["$ref"].rsplit("/", 1)[-1]]
    return schema


def operations():
    """(method, path, operation) of every call within a project."""
    for path, found in DOCUMENT["paths"].items():
        for method, operation in found.items():
            if "{project_id}" in path and method in ("get", "post", "put", "patch", "delete"):
                yield method, path, operation


def names_ids(schema, path, seen=()):
    """Whether a schema has a number in it that names something."""
    if "$ref" in schema:
        if schema["$ref"] in seen:
            return False
        seen = (*seen, schema["$ref"])
        schema = resolved(schema)
    inner = [*schema.get("anyOf", ()), *schema.get("oneOf", ()), *schema.get("prefixItems", ())]
    if isinstance(schema.get("items"), dict):
        inner.append(schema["items"])
    if isinstance(schema.get("additionalProperties"), dict):
        inner.append(schema["additionalProperties"])
    if any(names_ids(one, path, seen) for one in inner):
        return True
    for name, one in schema.get("properties", {}).items():
        if table_of(path, name) and holds_number(one):
            return True
        if names_ids(one, path, seen):
            return True
    return False


def holds_number(schema, depth=0):
    """Whether a value is a whole number, or a list of them, where it is not nothing."""
    schema = resolved(schema)
    if schema.get("type") == "integer":
        return True
    inner = [*schema.get("anyOf", ())]
    if depth < 3 and isinstance(schema.get("items"), dict):
        inner.append(schema["items"])
    if depth < 3 and isinstance(schema.get("additionalProperties"), dict):
        inner.append(schema["additionalProperties"])
    return any(holds_number(one, depth + 1) for one in inner)


def bodies(schema, path, id_of):
    """Valid values of a schema; ``id_of`` gives the id that stands for a table. Optional properties are there where
    something is named in them."""
    return list(itertools.islice(_values(schema, path, "", id_of, 0), MOST_BODIES))


def _values(schema, path, name, id_of, depth):
    schema = resolved(schema)
    if depth > 12:
        return
    if "const" in schema:
        yield schema["const"]
    elif "enum" in schema:
        yield schema["enum"][0]
    elif choices := schema.get("oneOf") or schema.get("anyOf"):
        real = [one for one in choices if one.get("type") != "null"]
        for one in real:
            yield from _values(one, path, name, id_of, depth + 1)
    elif schema.get("type") == "object" and "properties" in schema:
        yield from _objects(schema, path, id_of, depth)
    elif schema.get("type") == "object":
        inner = schema.get("additionalProperties")
        if isinstance(inner, dict) and table_of(path, name):
            for one in itertools.islice(_values(inner, path, name, id_of, depth + 1), 2):
                yield {"x": one}
        else:
            yield {}
    elif schema.get("type") == "array":
        yield from _arrays(schema, path, name, id_of, depth)
    elif schema.get("type") == "integer":
        table = table_of(path, name)
        low = schema.get(
            "minimum", schema.get("exclusiveMinimum", 0) + 1 if "exclusiveMinimum" in schema else 1
        )
        yield id_of(table) if table else low
    elif schema.get("type") == "number":
        yield schema.get("minimum", 1)
    elif schema.get("type") == "boolean":
        yield schema.get("default", False)
    elif schema.get("type") == "string":
        yield WORDS.get(schema.get("format"), "word" + "x" * max(schema.get("minLength", 1) - 4, 0))
    else:
        yield None


def _arrays(schema, path, name, id_of, depth):
    items = schema.get("items", {})
    wanted = max(schema.get("minItems", 0), 1 if table_of(path, name) or names_ids(items, path) else 0)
    if not wanted:
        yield []
    for one in _values(items, path, name, id_of, depth + 1) if wanted else ():
        yield [one] * wanted


def _objects(schema, path, id_of, depth):
    """One object for each alternative of each property, the others at their first."""
    given = {}
    for name, inner in schema["properties"].items():
        named = (table_of(path, name) is not None and holds_number(inner)) or names_ids(inner, path)
        if name in schema.get("required", ()) or "const" in inner or (named and depth < 8):
            values = list(itertools.islice(_values(inner, path, name, id_of, depth + 1), MOST_BODIES))
            given |= {name: values} if values else {}
    first = {name: values[0] for name, values in given.items()}
    yield first
    for name, values in given.items():
        for one in values[1:]:
            yield first | {name: one}
    # each thing that is named alone, too: what is refused for one of them must not hide another
    optional = [name for name in given if name not in schema.get("required", ())]
    if len(optional) > 1:
        for name in optional:
            yield {one: value for one, value in first.items() if one not in optional or one == name}


def unlisted():
    """Numbers of request bodies and paths of whose names nobody said whether they name something."""
    found = set()
    for _, template, operation in operations():
        path = template.replace("{subject}", "category")
        for parameter in operation.get("parameters", ()):
            if parameter["in"] == "path" and resolved(parameter["schema"]).get("type") == "integer":
                found.add((path, parameter["name"]))
        for content in operation.get("requestBody", {}).get("content", {}).values():
            found |= {(path, name) for name in _number_names(content["schema"], "", set())}
    return {name for path, name in found if table_of(path, name) is None and name not in TABLE_OF}


def _number_names(schema, name, seen):
    if "$ref" in schema:
        if schema["$ref"] in seen:
            return
        seen.add(schema["$ref"])
        schema = resolved(schema)
    if schema.get("type") == "integer":
        yield name
    for one in (*schema.get("anyOf", ()), *schema.get("oneOf", ()), *schema.get("prefixItems", ())):
        yield from _number_names(one, name, seen)
    for one in (schema.get("items"), schema.get("additionalProperties")):
        if isinstance(one, dict):
            yield from _number_names(one, name, seen)
    for inner, one in schema.get("properties", {}).items():
        yield from _number_names(one, inner, seen)
