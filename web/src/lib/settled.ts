import { useEffect, useState } from "react";

/** A value that follows once it has stayed the same for a while: what it is sent for should not run at every keystroke. */
export function useSettled<T>(value: T, milliseconds: number): T {
  const written = JSON.stringify(value);
  const [settled, setSettled] = useState({ written, value });
  useEffect(() => {
    if (written === settled.written) return;
    const timer = setTimeout(() => setSettled({ written, value }), milliseconds);
    return () => clearTimeout(timer);
  }, [written, value, settled.written, milliseconds]);
  return settled.value;
}
