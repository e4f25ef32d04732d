import { useEffect, useState } from "react";
import { api, data } from "../../api/client";
import { type Code, useCodebook } from "../../data/coding";
import { useProjectId, useScope, useSummary } from "../../data/project";
import { Menu } from "../../parts/controls";
import { useToast } from "../../parts/toast";
import { useJob } from "../../shell/jobs";

/** The code under which the codes of speakers come. */
const PARENT = "Speakers";
type Counted = "without" | "only";

const LOOK =
  "mr-2 rounded font-sans text-[12px] font-semibold text-bottle select-none hover:underline disabled:no-underline";
const TITLE = "Who speaks; not counted as words";

/** Who speaks, as it stands before a turn. A text has thousands of turns: what the menu needs is made when it opens. */
export function Speaker({ name }: { name: string }) {
  const [asked, setAsked] = useState(false);
  if (asked) return <SpeakerMenu name={name} />;
  return (
    <button type="button" className={LOOK} title={TITLE} aria-haspopup="menu" onClick={() => setAsked(true)}>
      {name}
    </button>
  );
}

/**
 * Who speaks, before the first words of a turn. Its menu leaves these words out of every count, or counts them alone:
 * the turns of the speaker come under a code, and the scope goes by that code.
 */
function SpeakerMenu({ name }: { name: string }) {
  const project_id = useProjectId();
  const { codes, byId } = useCodebook();
  const { scope, setScope } = useScope();
  const { tell, fail } = useToast();
  const writes = useSummary().data?.role !== "reader";
  const [wanted, setWanted] = useState<{ job: number; counted: Counted } | null>(null);
  const job = useJob(wanted?.job ?? null);
  const known = codes.some((one) => isOf(name, one, byId));
  const count = (counted: Counted) =>
    setScope([
      ...scope,
      { kind: "inside", field: "codes", codes: [`${PARENT} > ${name}`], exclude: counted === "without" },
    ]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: when its turns have been found
  useEffect(() => {
    if (!wanted || job?.id !== wanted.job) return;
    if (job.state === "done") count(wanted.counted);
    else if (job.state === "failed" || job.state === "cancelled")
      fail(new Error(job.message ?? "The turns were not found."));
    else return;
    setWanted(null);
  }, [job?.state]);
  const choose = async (counted: Counted) => {
    if (known) return count(counted);
    tell(`Looking for all that ${name} says…`);
    try {
      const made = await data(
        api.POST("/api/v1/projects/{project_id}/runs", {
          params: { path: { project_id } },
          body: {
            recipe: {
              finder: { kind: "speakers", names: [{ name, called: name }], pattern: "" },
              unit: "paragraph",
              around: 10,
              scope: [],
              version: 1,
            },
            name: `What ${name} says`,
            state: "applied",
            codes: {},
            parent_id: null,
            parent_name: PARENT,
          },
        }),
      );
      setWanted({ job: made.id, counted });
    } catch (error) {
      fail(error);
    }
  };
  const label = (
    <button type="button" className={LOOK} title={TITLE} disabled={!known && !writes}>
      {name}
    </button>
  );
  return (
    <Menu
      opened
      trigger={label}
      items={[
        { label: `Leave out what ${name} says`, onSelect: () => void choose("without") },
        { label: `Count only what ${name} says`, onSelect: () => void choose("only") },
      ]}
    />
  );
}

function isOf(name: string, code: Code, byId: ReadonlyMap<number, Code>): boolean {
  const parent = code.parent_id === null ? undefined : byId.get(code.parent_id);
  return code.name === name && parent?.name === PARENT && parent.parent_id === null;
}
