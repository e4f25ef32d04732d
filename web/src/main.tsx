import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { App } from "./shell/app";
import { startTheme } from "./shell/theme";
import "./styles.css";

startTheme();
createRoot(document.getElementById("root")!).render(
  <StrictMode>
    <App />
  </StrictMode>,
);
