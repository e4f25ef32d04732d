import { useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { api, data } from "../api/client";
import { keys } from "../data/keys";
import { Button, Failure, Field, Input } from "../parts/basic";
import { Mark } from "../parts/mark";

export function SignIn({ ended }: { ended: boolean }) {
  const client = useQueryClient();
  const [name, setName] = useState("");
  const [password, setPassword] = useState("");
  const [error, setError] = useState<unknown>(null);
  const [busy, setBusy] = useState(false);
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    setBusy(true);
    try {
      const me = await data(api.POST("/api/v1/sign-in", { body: { name, password } }));
      client.setQueryData(keys.me, me);
      await client.invalidateQueries({ predicate: (query) => query.queryKey[0] !== "me" });
    } catch (problem) {
      setError(problem);
    } finally {
      setBusy(false);
    }
  };
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
        <h1 className="mb-4 text-[19px] font-[650]">Sign in</h1>
        <form onSubmit={(event) => void submit(event)} className="max-w-[320px]">
          {ended && !error && (
            <p className="mb-3 text-ink2">Your session has ended. Sign in again; nothing was lost.</p>
          )}
          <Field label="Name">
            {(id) => (
              <Input
                id={id}
                name="name"
                autoComplete="username"
                value={name}
                onChange={(e) => setName(e.target.value)}
                autoFocus
              />
            )}
          </Field>
          <Field label="Password">
            {(id) => (
              <Input
                id={id}
                name="password"
                type="password"
                autoComplete="current-password"
                value={password}
                onChange={(e) => setPassword(e.target.value)}
              />
            )}
          </Field>
          {error !== null && (
            <div className="mb-3">
              <Failure error={error} />
            </div>
          )}
          <Button look="main" type="submit" disabled={busy || !name || !password}>
            Sign in
          </Button>
        </form>
      </main>
    </div>
  );
}
