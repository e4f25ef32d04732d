import type { ReactNode } from "react";
import { Link, useLocation } from "react-router";
import type { Condition, Schema } from "../../api/client";
import { useAddress, useProjectId, useScope, useSummary } from "../../data/project";
import { date, percent, whole } from "../../lib/numbers";

/** The corpus in numbers; each opens what it counts. */
export function Profile({ fields }: { fields: readonly Schema["FieldInfo"][] }) {
  const { scope, setScope } = useScope();
  const summary = useSummary().data;
  const project = useProjectId();
  const { search } = useLocation();
  const [, setSort] = useAddress("sort", "date");
  const source = fields.find((field) => field.key === "source");
  const day = fields.find((field) => field.key === "date");
  if (!summary || !source || !day) return <div className="h-[58px]" />;
  const narrow = (condition: Condition) => setScope([...scope, condition]);
  const without = (field: string) => () =>
    narrow({ kind: "values", field, values: [null], exclude: false } as Condition);
  return (
    <div className="flex flex-wrap items-end gap-x-7 gap-y-1 px-4 pt-2.5 pb-2" data-testid="profile">
      <dl className="contents">
        <Figure name="texts" onOpen={() => setScope([])} hint="All texts">
          {whole(summary.texts)}
        </Figure>
        <Figure name="words" onOpen={() => setSort("words")} hint="Sort by words">
          {whole(summary.words)}
        </Figure>
        <Figure name="sources" onOpen={() => setSort("source")} hint="Sort by source">
          {whole(source.different)}
        </Figure>
        {day.low && (
          <Figure name="period" onOpen={() => setSort("date")} hint="Sort by date">
            {date(day.low)} to {date(day.high)}
          </Figure>
        )}
        <Figure
          name="without date"
          {...(day.missing ? { onOpen: without("date"), hint: "Narrow to these", care: true } : {})}
        >
          {day.missing ? `${percent(day.missing / summary.texts)} (${whole(day.missing)})` : "none"}
        </Figure>
        <Figure
          name="without source"
          {...(source.missing ? { onOpen: without("source"), hint: "Narrow to these", care: true } : {})}
        >
          {source.missing ? `${percent(source.missing / summary.texts)} (${whole(source.missing)})` : "none"}
        </Figure>
      </dl>
      <Link
        to={`/projects/${project}/corpus/check${search}`}
        className="mb-0.5 font-semibold text-bottle hover:underline"
      >
        More in the check
      </Link>
    </div>
  );
}

function Figure({
  name,
  children,
  onOpen,
  hint,
  care = false,
}: {
  name: string;
  children: ReactNode;
  onOpen?: () => void;
  hint?: string;
  care?: boolean;
}) {
  return (
    <div>
      <dt className="text-[11.5px] text-ink2">{name}</dt>
      <dd className={`text-[15px] font-[650] ${care ? "text-rust" : ""}`}>
        {onOpen ? (
          <button
            type="button"
            onClick={onOpen}
            title={hint}
            className="font-[650] decoration-line2 underline-offset-4 hover:underline"
          >
            {children}
          </button>
        ) : (
          children
        )}
      </dd>
    </div>
  );
}
