import { useIsMutating } from "@tanstack/react-query";
import { Dialog as RadixDialog } from "radix-ui";
import { useState, useSyncExternalStore } from "react";
import { plural } from "../lib/numbers";
import { outbox } from "../lib/outbox";
import { Button } from "../parts/basic";
import { SignIn } from "./signin";

/**
 * The session has ended: a line that takes nothing from whoever is typing, and from it the way back in. The views stay
 * as they are under it; what waits is sent when the same person is signed in again.
 */
export function SignInAgain({ name }: { name: string }) {
  // questions wait, too, but only changes are spoken of
  const waiting = useIsMutating() + useSyncExternalStore(outbox.subscribe, () => outbox.waiting);
  const [open, setOpen] = useState(false);
  return (
    <>
      <div
        role="alert"
        data-testid="session-ended"
        className="fixed top-0 right-0 left-0 z-[75] flex items-center gap-3 border-b border-rust bg-sheet px-4 py-2.5 text-rust"
      >
        <span>
          Your session has ended. Sign in again; nothing was lost.
          {waiting > 0 && ` ${plural(waiting, "change")} will be saved once ${name} is signed in again.`}
        </span>
        <Button look="main" onClick={() => setOpen(true)}>
          Sign in again
        </Button>
      </div>
      <RadixDialog.Root open={open} onOpenChange={setOpen}>
        <RadixDialog.Portal>
          <RadixDialog.Content
            aria-describedby={undefined}
            data-testid="sign-in-again"
            className="fixed inset-0 z-[80] overflow-auto bg-page"
          >
            <RadixDialog.Title className="sr-only">Sign in again</RadixDialog.Title>
            <SignIn ended waiting={waiting} who={name} />
          </RadixDialog.Content>
        </RadixDialog.Portal>
      </RadixDialog.Root>
    </>
  );
}
