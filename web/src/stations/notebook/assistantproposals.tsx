import { type ReactNode, useState } from "react";
import { type Cited, newCode, type Proposal, type Reply, type Task, useTaking } from "../../data/assistant";
import { useCodebook, useCodes } from "../../data/coding";
import { plural } from "../../lib/numbers";
import { Button, Input } from "../../parts/controls";
import { useToast } from "../../parts/toast";
import { WaitingRows } from "../../parts/waitingrows";

type Numbers = (numbers: readonly number[]) => ReactNode;

/** What is proposed, each with what it rests on; taken one by one. */
export function Proposals({
  task,
  reply,
  writes,
  numbers,
}: {
  task: Task;
  reply: Reply;
  writes: boolean;
  numbers: Numbers;
}) {
  if (!reply.proposals.length) return null;
  return (
    <ol className="mt-3" aria-label="Proposals">
      {reply.proposals.map((one, at) => (
        <li key={at} className="mb-4 border-b border-line pb-3">
          {one.kind === "coding" ? (
            <Coding proposal={one} reply={reply} writes={writes} />
          ) : (
            <Named task={task} proposal={one} writes={writes} numbers={numbers} />
          )}
        </li>
      ))}
    </ol>
  );
}

/** A name, a wording or a group: its words can be changed before it is taken. */
function Named({
  task,
  proposal,
  writes,
  numbers,
}: {
  task: Task;
  proposal: Proposal;
  writes: boolean;
  numbers: Numbers;
}) {
  const [words, setWords] = useState(proposal.words);
  const [taken, setTaken] = useState("");
  const { byId } = useCodebook();
  const { group } = useTaking();
  const { make, change } = useCodes();
  const { tell } = useToast();
  const code = task.task === "wordings" ? byId.get(task.code) : undefined;
  const name = words.trim();
  const take = () => {
    if (proposal.kind === "group")
      group.mutate({ name, codes: [...proposal.codes] }, { onSuccess: () => setTaken("The group is made.") });
    else if (proposal.kind === "wording" && code)
      change.mutate({ code, name }, { onSuccess: () => setTaken("The code has this name now.") });
    else
      make.add(newCode(name), () => {
        setTaken("The code is made.");
        tell(`Code “${name}” made. Undo takes it back.`);
      });
  };
  const label = {
    group: "Make the group",
    wording: "Rename the code",
    name: "Make a code of it",
    coding: "",
  }[proposal.kind];
  return (
    <>
      <div className="flex items-center gap-2">
        <Input
          aria-label="Proposed name"
          value={words}
          maxLength={120}
          disabled={!writes || taken !== ""}
          onChange={(event) => setWords(event.target.value)}
          className="max-w-[300px] font-semibold"
        />
        {writes && !taken && (
          <Button
            onClick={take}
            disabled={!name || group.isPending || make.entries.length > 0 || change.isPending}
          >
            {label}
          </Button>
        )}
        {taken && <span role="status">{taken}</span>}
      </div>
      <WaitingRows of={make} onEdit={(given) => setWords(given.name)} />
      <p className="mt-1 text-ink2">
        {proposal.why} {numbers(proposal.passages)}
      </p>
    </>
  );
}

/** A question with passages that may answer it: each is coded only when it is taken. */
function Coding({ proposal, reply, writes }: { proposal: Proposal; reply: Reply; writes: boolean }) {
  const { codes } = useCodebook();
  const { code } = useTaking();
  const [name, setName] = useState(proposal.words);
  const [taken, setTaken] = useState<ReadonlySet<number>>(new Set());
  const [left, setLeft] = useState<ReadonlySet<number>>(new Set());
  const [working, setWorking] = useState(false);
  const given = name.trim();
  const passages = reply.passages.filter((one) => proposal.passages.includes(one.number));
  const open = passages.filter((one) => !taken.has(one.number) && !left.has(one.number));
  const known = codes.find((one) => one.parent_id === null && one.name === given);
  // one after the other: the first makes the code, the others come under it
  const take = async (some: readonly Cited[]) => {
    setWorking(true);
    let id = known?.id ?? null;
    for (const passage of some) {
      try {
        const made = await code.mutateAsync({ passage, code: id, name: given });
        id = made.passages[0]?.code_id ?? id;
        setTaken((now) => new Set([...now, passage.number]));
      } catch {
        break; // what went wrong was told; the rest stays to be taken
      }
    }
    setWorking(false);
  };
  return (
    <>
      <p className="font-serif text-[15.5px]">{proposal.why}</p>
      <div className="mt-1.5 flex flex-wrap items-center gap-2">
        <label className="flex items-center gap-2">
          Code
          <Input
            aria-label={`Code for: ${proposal.why}`}
            value={name}
            maxLength={120}
            disabled={!writes || working || taken.size > 0}
            onChange={(event) => setName(event.target.value)}
            className="w-[240px]!"
          />
        </label>
        {writes && open.length > 0 && (
          <Button onClick={() => void take(open)} disabled={!given || working}>
            Take all {open.length}
          </Button>
        )}
        <span role="status" className="text-ink2">
          {taken.size > 0 && `${plural(taken.size, "passage")} coded. `}
          {left.size > 0 && `${left.size} left.`}
        </span>
      </div>
      <ul className="mt-2">
        {open.map((one) => (
          <li key={one.number} className="flex items-start gap-2 py-1">
            <span className="min-w-0 flex-1 font-serif text-[14.5px] leading-[1.45]">
              <b className="mr-1 font-sans text-[12px]">{one.number}</b>
              {one.words}
            </span>
            {writes && (
              <>
                <Button look="ghost" disabled={!given || working} onClick={() => void take([one])}>
                  Take
                </Button>
                <Button
                  look="ghost"
                  disabled={working}
                  onClick={() => setLeft((now) => new Set([...now, one.number]))}
                >
                  Leave
                </Button>
              </>
            )}
          </li>
        ))}
      </ul>
    </>
  );
}
