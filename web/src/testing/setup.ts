/** What browsers have and the simulated page has not; and patience, for tests on a busy machine. */
import { configure } from "@testing-library/dom";

configure({ asyncUtilTimeout: 20_000 });

if (typeof window !== "undefined") {
  const Whole = globalThis.Request;
  // an address without a host is one of this page
  globalThis.Request = class extends Whole {
    constructor(input: RequestInfo | URL, init?: RequestInit) {
      super(typeof input === "string" ? new URL(input, window.location.href) : input, init);
    }
  };
  window.HTMLElement.prototype.scrollIntoView = () => {};
  window.HTMLElement.prototype.hasPointerCapture = () => false;
  globalThis.ResizeObserver = class {
    constructor(private readonly seen: ResizeObserverCallback) {}
    observe() {
      this.seen([{ contentRect: { width: 760, height: 460 } } as ResizeObserverEntry], this);
    }
    unobserve() {}
    disconnect() {}
  };
  const pen = {
    font: "",
    measureText: (text: string) => ({
      width: (text.length * Number(/(\d+(\.\d+)?)px/.exec(pen.font)?.[1] ?? 10)) / 2,
    }),
  };
  window.HTMLCanvasElement.prototype.getContext = (() => pen) as never;
}
