import { Component, type ErrorInfo, type ReactNode } from "react";
import { Button } from "./basic";

interface Props {
  /** What is shown inside, as people call it: "This view", "The evidence panel". */
  what: string;
  /** Another value here means that something else is shown now: it is tried again. */
  shown?: string | undefined;
  children: ReactNode;
}

/**
 * Keeps an error in one view or panel there: everything beside it stays as it is, with what was typed in it.
 * It says what happened, and offers to try again.
 */
export class Boundary extends Component<Props, { error: Error | null; failedAt: string | undefined }> {
  override state: { error: Error | null; failedAt: string | undefined } = {
    error: null,
    failedAt: undefined,
  };

  static getDerivedStateFromError(error: unknown) {
    return { error: error instanceof Error ? error : new Error(String(error)) };
  }

  static getDerivedStateFromProps(
    props: Props,
    state: { error: Error | null; failedAt: string | undefined },
  ) {
    if (!state.error) return { failedAt: props.shown };
    return props.shown === state.failedAt ? null : { error: null, failedAt: props.shown };
  }

  override componentDidCatch(error: unknown, info: ErrorInfo) {
    console.error(`${this.props.what} failed`, error, info.componentStack);
  }

  override render() {
    const { error } = this.state;
    if (!error) return this.props.children;
    return (
      <div
        role="alert"
        className="m-4 max-w-[560px] rounded-[5px] border-l-[3px] border-rust bg-sheet px-4 py-3"
      >
        <p className="mb-1 font-semibold text-rust">{this.props.what} stopped because of a program error.</p>
        <p className="mb-3 text-ink2">
          Everything saved is safe, and the rest of the page still works. Details: {error.message}
        </p>
        <div className="flex gap-2">
          <Button look="main" onClick={() => this.setState({ error: null })}>
            Try again
          </Button>
          <Button onClick={() => window.location.reload()}>Reload the page</Button>
        </div>
      </div>
    );
  }
}
