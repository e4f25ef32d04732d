import { ProblemError } from "../api/client";
import { Empty, Failure } from "./basic";

/** What stands where an answer would: a question that has none is no failure. */
export function Told({ error }: { error: unknown }) {
  if (error instanceof ProblemError && error.status === 422 && !error.message.includes("at most"))
    return <Empty title="There is no answer to this here">{error.message}</Empty>;
  return <Failure error={error} />;
}
