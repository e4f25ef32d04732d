import ts from "typescript";
import { expect, test } from "vitest";

const EFFECTS = new Set(["useEffect", "useLayoutEffect", "useInsertionEffect"]);

/** All sources of the interface by their paths. */
const SOURCES = import.meta.glob<string>(["../**/*.{ts,tsx}", "!../**/*.test.*", "!../**/*.gen.*"], {
  query: "?raw",
  import: "default",
  eager: true,
});

function isFunction(node: ts.Node): node is ts.ArrowFunction | ts.FunctionExpression {
  return ts.isArrowFunction(node) || ts.isFunctionExpression(node);
}

/** What an effect returns that is not written as a function on the spot; nested functions are their own. */
function returnsOf(body: ts.Node): ts.Expression[] {
  const found: ts.Expression[] = [];
  const look = (node: ts.Node): void => {
    if (isFunction(node) || ts.isFunctionDeclaration(node)) return;
    if (ts.isReturnStatement(node) && node.expression && !isFunction(node.expression))
      found.push(node.expression);
    ts.forEachChild(node, look);
  };
  look(body);
  return found;
}

/** Each effect of a source that could hand React something else than a function as its clean-up. */
function looseEffects(name: string, source: string): string[] {
  const file = ts.createSourceFile(name, source, ts.ScriptTarget.Latest, true, ts.ScriptKind.TSX);
  const found: string[] = [];
  const tell = (node: ts.Node) =>
    found.push(`${name}:${file.getLineAndCharacterOfPosition(node.getStart()).line + 1}`);
  const look = (node: ts.Node): void => {
    if (ts.isCallExpression(node) && EFFECTS.has(node.expression.getText(file).split(".").pop() ?? "")) {
      const act = node.arguments[0]!;
      if (!isFunction(act) || !ts.isBlock(act.body)) tell(node);
      else for (const loose of returnsOf(act.body)) tell(loose);
    }
    ts.forEachChild(node, look);
  };
  look(file);
  return found;
}

test("an effect has braces and returns nothing but a function", () => {
  expect(looseEffects("a", "useEffect(() => aim.current?.scrollIntoView(), []);")).toEqual(["a:1"]);
  expect(looseEffects("a", "React.useLayoutEffect(() => { if (x) { return stop(); } }, []);")).toEqual([
    "a:1",
  ]);
  expect(looseEffects("a", "useEffect(act, []);")).toEqual(["a:1"]);
  expect(
    looseEffects(
      "a",
      "useEffect(() => { const f = () => { return 1; }; if (!f()) return; return () => f(); });",
    ),
  ).toEqual([]);
});

test("every effect of the interface does", () => {
  expect(Object.keys(SOURCES).length).toBeGreaterThan(200);
  expect(Object.entries(SOURCES).flatMap(([path, source]) => looseEffects(path, source))).toEqual([]);
});
