import { createContext, type ReactNode, useCallback, useContext, useEffect, useMemo, useState } from "react";
import { KeptTheirs } from "../api/client";

interface Message {
  id: number;
  text: string;
  bad: boolean;
  actions: readonly Action[];
}

/** Something that can be done about a message. */
interface Action {
  label: string;
  onSelect: () => void;
}

const Context = createContext<{
  tell: (text: string) => void;
  fail: (error: unknown, actions?: readonly Action[]) => void;
}>({
  tell: () => {},
  fail: () => {},
});

/** Short messages at the foot of the page; errors stay until they are closed. */
export function ToastProvider({ children }: { children: ReactNode }) {
  const [messages, setMessages] = useState<Message[]>([]);
  const add = useCallback(
    (text: string, bad: boolean, actions: readonly Action[] = []) =>
      setMessages((now) => [...now.slice(-2), { id: Date.now() + Math.random(), text, bad, actions }]),
    [],
  );
  const close = useCallback((id: number) => setMessages((now) => now.filter((m) => m.id !== id)), []);
  const value = useMemo(
    () => ({
      tell: (text: string) => add(text, false),
      fail: (error: unknown, actions: readonly Action[] = []) =>
        add(error instanceof Error ? error.message : String(error), !(error instanceof KeptTheirs), actions),
    }),
    [add],
  );
  return (
    <Context.Provider value={value}>
      {children}
      <div className="fixed bottom-4 left-1/2 z-[60] flex -translate-x-1/2 flex-col gap-2">
        {messages.map((message) => (
          <Toast key={message.id} message={message} onClose={() => close(message.id)} />
        ))}
      </div>
    </Context.Provider>
  );
}

function Toast({ message, onClose }: { message: Message; onClose: () => void }) {
  useEffect(() => {
    if (message.bad) return;
    const timer = setTimeout(onClose, 4000);
    return () => clearTimeout(timer);
  }, [message.bad, onClose]);
  return (
    <div
      role={message.bad ? "alert" : "status"}
      className={`fade-in flex max-w-[520px] items-start gap-3 rounded-md px-3.5 py-2 shadow-xl ${message.bad ? "border border-rust bg-sheet text-rust" : "bg-bar text-white"}`}
    >
      <span>{message.text}</span>
      {message.actions.map((action) => (
        <button
          key={action.label}
          type="button"
          onClick={() => {
            action.onSelect();
            onClose();
          }}
          className="shrink-0 font-semibold whitespace-nowrap underline"
        >
          {action.label}
        </button>
      ))}
      <button
        type="button"
        aria-label="Close message"
        onClick={onClose}
        className="opacity-70 hover:opacity-100"
      >
        ×
      </button>
    </div>
  );
}

export const useToast = () => useContext(Context);
