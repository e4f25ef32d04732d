import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, type ReactNode, useState } from "react";
import { api, data, type Schema } from "../api/client";
import { keys } from "../data/keys";
import { plural } from "../lib/numbers";
import { Button, Failure, Waiting } from "../parts/basic";
import { PasswordField, TextField } from "../parts/fields";
import { Mark } from "../parts/mark";

/** The way in: sign in, or, where nobody can yet, make the first account. */
export function SignIn({
  ended,
  waiting = 0,
  who = "",
}: {
  ended: boolean;
  /** So many changes of ``who`` are sent once they are signed in again. */
  waiting?: number;
  who?: string;
}) {
  const start = useQuery({
    queryKey: keys.start,
    queryFn: () => data(api.GET("/api/v1/start")),
    staleTime: 0,
  });
  return (
    <div className="grid h-full grid-cols-[minmax(0,1fr)_minmax(0,1fr)]">
      <div className="flex flex-col justify-center bg-bar px-[9%] text-[#E9EDE8]">
        <div className="mb-4 flex items-center gap-2.5 text-[20px] font-bold">
          <Mark />
          Winnower
        </div>
        <p className="max-w-[400px] font-serif text-[23px] leading-[1.35]">
          Count, compare and read large bodies of text. Every number opens the passages under it.
        </p>
      </div>
      <main className="flex flex-col justify-center px-[12%]">
        {start.isPending ? (
          <Waiting what="Opening" />
        ) : start.data?.empty ? (
          <FirstAccount />
        ) : (
          <Known ended={ended} waiting={waiting} who={who} />
        )}
      </main>
    </div>
  );
}

/** Send a form; on success whoever it was for is signed in. */
function useEntry(send: () => Promise<Schema["Me"]>) {
  const client = useQueryClient();
  const [error, setError] = useState<unknown>(null);
  const [busy, setBusy] = useState(false);
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    setBusy(true);
    try {
      const me = await send();
      client.setQueryData(keys.me, me);
      await client.invalidateQueries({ predicate: (query) => query.queryKey[0] !== "me" });
    } catch (problem) {
      setError(problem);
      await client.invalidateQueries({ queryKey: keys.start });
    } finally {
      setBusy(false);
    }
  };
  return { error, busy, submit: (event: FormEvent) => void submit(event) };
}

function Known({ ended, waiting, who }: { ended: boolean; waiting: number; who: string }) {
  const [name, setName] = useState("");
  const [password, setPassword] = useState("");
  const entry = useEntry(() => data(api.POST("/api/v1/sign-in", { body: { name, password } })));
  return (
    <>
      <h1 className="mb-4 text-[19px] font-[650]">Sign in</h1>
      <form onSubmit={entry.submit} className="max-w-[320px]">
        {ended && !entry.error && (
          <p className="mb-3 text-ink2">
            Your session has ended. Sign in again; nothing was lost.
            {waiting > 0 && ` ${plural(waiting, "change")} will be saved once ${who} is signed in again.`}
          </p>
        )}
        <Name value={name} onChange={setName} />
        <PasswordField
          name="password"
          label="Password"
          kind="current-password"
          value={password}
          onChange={setPassword}
        />
        <Foot error={entry.error}>
          <Button look="main" type="submit" disabled={entry.busy || !name || !password}>
            Sign in
          </Button>
        </Foot>
      </form>
    </>
  );
}

function FirstAccount() {
  const [name, setName] = useState("");
  const [full_name, setFullName] = useState("");
  const [password, setPassword] = useState("");
  const [again, setAgain] = useState("");
  const entry = useEntry(() => data(api.POST("/api/v1/start", { body: { name, full_name, password } })));
  const differ = again !== "" && again !== password;
  return (
    <>
      <h1 className="mb-1 text-[19px] font-[650]">The first account</h1>
      <p className="mb-4 max-w-[380px] text-ink2">
        Nobody can sign in here yet. The account you make now owns what was imported on the command line, if
        anything was; further accounts are made there, with “winnower account add”.
      </p>
      <form onSubmit={entry.submit} className="max-w-[320px]">
        <Name value={name} onChange={setName} />
        <TextField
          label="Your name, as others see it"
          name="full_name"
          autoComplete="name"
          value={full_name}
          maxLength={120}
          onChange={setFullName}
        />
        <PasswordField
          name="password"
          label="Password, at least 8 characters"
          kind="new-password"
          value={password}
          onChange={setPassword}
        />
        <PasswordField
          label="Password again"
          name="again"
          kind="new-password"
          value={again}
          onChange={setAgain}
        />
        {differ && <p className="mb-3 text-rust">The two passwords differ.</p>}
        <Foot error={entry.error}>
          <Button
            look="main"
            type="submit"
            disabled={entry.busy || !name.trim() || password.length < 8 || again !== password}
          >
            Make account
          </Button>
        </Foot>
      </form>
    </>
  );
}

function Name({ value, onChange }: { value: string; onChange: (value: string) => void }) {
  return (
    <TextField
      label="Name"
      name="name"
      autoComplete="username"
      value={value}
      maxLength={60}
      onChange={onChange}
      autoFocus
    />
  );
}

function Foot({ error, children }: { error: unknown; children: ReactNode }) {
  return (
    <>
      {error !== null && (
        <div className="mb-3">
          <Failure error={error} />
        </div>
      )}
      {children}
    </>
  );
}
