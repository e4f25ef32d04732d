const KEY = "winnower-theme";

/** Light or dark, as chosen before, else as the system has it. */
export function startTheme(): void {
  const chosen =
    localStorage.getItem(KEY) ?? (matchMedia("(prefers-color-scheme: dark)").matches ? "dark" : "light");
  document.documentElement.dataset.theme = chosen;
}

export function toggleTheme(): void {
  const next = document.documentElement.dataset.theme === "dark" ? "light" : "dark";
  document.documentElement.dataset.theme = next;
  localStorage.setItem(KEY, next);
}
