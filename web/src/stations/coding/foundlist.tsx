import { Fragment } from "react";
import type { Schema } from "../../api/client";
import type { Code } from "../../data/coding";
import { plural, whole } from "../../lib/numbers";
import { Button } from "../../parts/controls";
import { FoundRow, PAGE } from "./found";

/** A page of passages under the heads of their groups. */
export function FoundList({
  page,
  codes,
  ticked,
  start,
  narrow = false,
  onTick,
  onStart,
}: {
  page: Schema["PassagesPage"];
  codes: ReadonlyMap<number, Code>;
  ticked?: ReadonlySet<number>;
  start: number;
  narrow?: boolean;
  onTick?: (ids: readonly number[], on: boolean) => void;
  onStart: (start: number) => void;
}) {
  return (
    <>
      <ul>
        {page.passages.map((one, at) => {
          const group = one.group === null ? undefined : page.groups[String(one.group)];
          return (
            <Fragment key={`${one.id} ${one.group}`}>
              {group && page.passages[at - 1]?.group !== one.group && (
                <li className="border-b border-line2 bg-page px-3 py-1 font-bold" data-testid="group-head">
                  {group.label}{" "}
                  <span className="font-normal text-ink2">{plural(group.passages, "passage")}</span>
                </li>
              )}
              <FoundRow
                one={one}
                code={codes.get(one.code_id)}
                narrow={narrow}
                ticked={ticked?.has(one.id) ?? false}
                {...(onTick ? { onTick: () => onTick([one.id], !ticked?.has(one.id)) } : {})}
              />
            </Fragment>
          );
        })}
      </ul>
      {page.rows > PAGE && (
        <div className="flex items-center gap-3 px-4 py-3 text-ink2">
          <Button disabled={start === 0} onClick={() => onStart(start - PAGE)}>
            ‹ Before
          </Button>
          {whole(start + 1)} to {whole(Math.min(start + PAGE, page.rows))} of {whole(page.rows)}
          <Button disabled={start + PAGE >= page.rows} onClick={() => onStart(start + PAGE)}>
            After ›
          </Button>
        </div>
      )}
    </>
  );
}
