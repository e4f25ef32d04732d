/** Texts chosen in a table: some by id, or all that the scope and the search find. */
export interface Selection {
  all: boolean;
  ids: readonly number[];
}

export const NOTHING: Selection = { all: false, ids: [] };
export const EVERYTHING: Selection = { all: true, ids: [] };

export const isChosen = (selection: Selection, id: number) => selection.all || selection.ids.includes(id);

export const countChosen = (selection: Selection, total: number) =>
  selection.all ? total : selection.ids.length;

/** Choose a text or let it go. From "all", letting one go leaves the others that are known. */
export function toggle(selection: Selection, id: number, known: readonly number[] = []): Selection {
  if (selection.all) return { all: false, ids: known.filter((one) => one !== id) };
  return {
    all: false,
    ids: selection.ids.includes(id) ? selection.ids.filter((one) => one !== id) : [...selection.ids, id],
  };
}

/** Choose all from one place to another in the order of the table, beside what is chosen. */
export function extend(
  selection: Selection,
  order: ReadonlyMap<number, number>,
  from: number,
  to: number,
): Selection {
  if (selection.all) return selection;
  const ids = new Set(selection.ids);
  for (let at = Math.min(from, to); at <= Math.max(from, to); at += 1) {
    const id = order.get(at);
    if (id !== undefined) ids.add(id);
  }
  return { all: false, ids: [...ids] };
}

/** What is asked of the server for a selection. */
export function asked(
  selection: Selection,
  scope: readonly object[],
  find: string,
): { ids: number[] | null; scope: object[]; find: string } {
  return { ids: selection.all ? null : [...selection.ids], scope: [...scope], find };
}
