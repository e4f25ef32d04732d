/** All controls: those of the page itself, and those that float above it (which bring a library along). */
export * from "./basic";
export * from "./floating";
