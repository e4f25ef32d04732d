import { Dialog as RadixDialog } from "radix-ui";
import { useSyncExternalStore } from "react";
import { heldChanges, subscribeHeld } from "../api/session";
import { outbox } from "../lib/outbox";
import { SignIn } from "./signin";

/** Over the views of whoever was at work: what they typed stays there, what waits is sent when they are back. */
export function SignInAgain({ name }: { name: string }) {
  const held = useSyncExternalStore(subscribeHeld, heldChanges);
  return (
    <RadixDialog.Root open>
      <RadixDialog.Portal>
        <RadixDialog.Content
          aria-describedby={undefined}
          data-testid="sign-in-again"
          className="fixed inset-0 z-[80] overflow-auto bg-page"
        >
          <RadixDialog.Title className="sr-only">Sign in again</RadixDialog.Title>
          <SignIn ended waiting={Math.max(held, outbox.waiting)} who={name} />
        </RadixDialog.Content>
      </RadixDialog.Portal>
    </RadixDialog.Root>
  );
}
