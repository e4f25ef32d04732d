import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { api, data, type Schema } from "../api/client";
import { keys } from "../data/keys";
import { plural } from "../lib/numbers";
import { Button, Failure, Waiting } from "../parts/basic";
import { PasswordField } from "../parts/fields";
import { Dialog } from "../parts/floating";

/** Your own account: the password, and where you are signed in. */
export function AccountDialog({ me, onClose }: { me: Schema["Me"]; onClose: () => void }) {
  const client = useQueryClient();
  const sessions = useQuery({
    queryKey: keys.sessions,
    queryFn: () => data(api.GET("/api/v1/sessions")),
    staleTime: 0,
  });
  const [said, setSaid] = useState("");
  const [error, setError] = useState<unknown>(null);
  const tell = async (ended: number, first: string) => {
    setError(null);
    setSaid(`${first} ${ended ? `${plural(ended, "other session")} ended.` : ""}`.trim());
    await client.invalidateQueries({ queryKey: keys.sessions });
  };
  const endOthers = async () => {
    try {
      const out = await data(api.POST("/api/v1/sessions/end-others"));
      await tell(out.sessions, "");
    } catch (problem) {
      setError(problem);
    }
  };
  const others = sessions.data?.filter((one) => !one.this).length ?? 0;
  return (
    <Dialog title={`${me.full_name}, signed in as ${me.name}`} open onClose={onClose}>
      {error !== null && <Failure error={error} />}
      {said && (
        <p role="status" className="mb-3 rounded bg-bottle/10 px-3 py-1.5">
          {said}
        </p>
      )}
      <PasswordForm onDone={(ended) => void tell(ended, "The password is changed.")} onFail={setError} />
      <h3 className="mt-5 mb-1.5 font-semibold">Where you are signed in</h3>
      {sessions.isPending && <Waiting what="Reading" />}
      {sessions.error && <Failure error={sessions.error} />}
      <ul className="max-h-[26vh] overflow-auto rounded border border-line">
        {sessions.data?.map((one) => (
          <li
            key={`${one.made_at}${one.about}${one.expires_at}`}
            className="flex gap-3 border-b border-line px-3 py-1.5 last:border-0"
          >
            <span className="min-w-0 flex-1 truncate" title={one.about}>
              {browserOf(one.about)}
            </span>
            <span className="text-ink2">{one.this ? "here" : `since ${moment(one.made_at)}`}</span>
          </li>
        ))}
      </ul>
      <div className="mt-4 flex justify-end gap-2">
        <Button disabled={!others} onClick={() => void endOthers()}>
          End the others
        </Button>
        <Button look="main" onClick={onClose}>
          Close
        </Button>
      </div>
    </Dialog>
  );
}

function PasswordForm({
  onDone,
  onFail,
}: {
  onDone: (ended: number) => void;
  onFail: (error: unknown) => void;
}) {
  const [old, setOld] = useState("");
  const [fresh, setFresh] = useState("");
  const change = async (event: FormEvent) => {
    event.preventDefault();
    try {
      const out = await data(api.POST("/api/v1/password", { body: { old, new: fresh } }));
      setOld("");
      setFresh("");
      onDone(out.sessions);
    } catch (problem) {
      onFail(problem);
    }
  };
  return (
    <form onSubmit={(event) => void change(event)} className="grid grid-cols-2 items-end gap-3">
      <PasswordField label="Current password" kind="current-password" value={old} onChange={setOld} />
      <PasswordField
        label="New password"
        kind="new-password"
        minLength={8}
        value={fresh}
        onChange={setFresh}
      />
      <p className="text-[12px] text-ink2">At least 8 characters. All other sessions end.</p>
      <Button type="submit" disabled={!old || fresh.length < 8}>
        Change the password
      </Button>
    </form>
  );
}

/** The browser and the system, as far as the browser tells them. */
export function browserOf(about: string): string {
  const browser = /(Firefox|Edg|OPR|Chrome|Safari)\/(\d+)/.exec(about);
  const system = /(Windows|Macintosh|Android|iPhone|iPad|Linux)/.exec(about)?.[1];
  const name = { Edg: "Edge", OPR: "Opera" }[browser?.[1] ?? ""] ?? browser?.[1];
  return (
    [name && `${name} ${browser?.[2]}`, system === "Macintosh" ? "Mac" : system].filter(Boolean).join(", ") ||
    about ||
    "unknown browser"
  );
}

function moment(iso: string): string {
  return new Date(iso).toLocaleString("en-GB", {
    day: "numeric",
    month: "short",
    hour: "2-digit",
    minute: "2-digit",
  });
}
