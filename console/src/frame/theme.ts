const KEY = "glenmoor-theme";

export type Theme = "system" | "light" | "dark";

const dark = window.matchMedia("(prefers-color-scheme: dark)");

export function chosenTheme(): Theme {
  const kept = localStorage.getItem(KEY);
  return kept === "light" || kept === "dark" ? kept : "system";
}

function apply() {
  const theme = chosenTheme();
  const shown = theme === "system" ? (dark.matches ? "dark" : "light") : theme;
  document.documentElement.dataset.theme = shown;
}

export function chooseTheme(theme: Theme) {
  if (theme === "system") localStorage.removeItem(KEY);
  else localStorage.setItem(KEY, theme);
  apply();
}

/** Follows the system until somebody chooses. */
export function startTheme() {
  apply();
  dark.addEventListener("change", apply);
}
