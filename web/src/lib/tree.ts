/** Nodes of a tree as the server lists them: a parent stands before its children. */
interface Node {
  id: number;
  parent_id: number | null;
  name: string;
}

const LEVEL_SIGN = " > ";

/** The path of a category from the top of its tree, as rows of tables are named by. */
export function pathOf(tree: { categories: readonly Node[] }, node: Node): string {
  const names: string[] = [];
  for (let at: Node | undefined = node; at; ) {
    names.unshift(at.name);
    const parent: number | null = at.parent_id;
    at = parent === null ? undefined : tree.categories.find((one) => one.id === parent);
  }
  return names.join(LEVEL_SIGN);
}
