// Links that lead to a field, the switch of the theme, and keys.

document.addEventListener("click", (event) => {
  const link = event.target.closest("[data-focus]");
  const field = link && document.getElementById(link.dataset.focus);
  if (field) {
    event.preventDefault();
    field.scrollIntoView({ block: "center" });
    field.focus({ preventScroll: true });
  }
  // A link to something folded unfolds it.
  const anchor = event.target.closest("a[href^='#']");
  const folded = anchor && document.getElementById(anchor.getAttribute("href").slice(1));
  if (folded instanceof HTMLDetailsElement) folded.open = true;
  if (event.target.closest("[data-theme-switch]")) switchTheme();
});

function switchTheme() {
  const root = document.documentElement;
  const dark = root.dataset.theme ? root.dataset.theme === "dark" : matchMedia("(prefers-color-scheme: dark)").matches;
  root.dataset.theme = dark ? "light" : "dark";
  try { localStorage.setItem("theme", root.dataset.theme); } catch { /* it holds for this page */ }
}

// Keys; never while typing.
document.addEventListener("keydown", (event) => {
  if (event.ctrlKey || event.metaKey || event.altKey || event.target.closest("input, select, textarea, dialog")) return;
  const go = {
    "?": () => document.querySelector("[data-keys]").showModal(),
    g: () => location.assign("/"),
    n: () => focusOn(document.querySelector("#next .look-round input:not([type=hidden]), #next .act, #next .answer button, #noticed [data-find]")),
    r: () => focusOn(document.getElementById("reading-value")),
    "/": () => focusOn(document.querySelector("[data-quick]") || document.querySelector("[data-find]")),
    f: () => focusOn(document.querySelector("[data-find]")),
    y: () => press("#next [data-answer=yes], #next .times button"),
    x: () => press("#next [data-answer=no]"),
  }[event.key];
  if (!go) return;
  event.preventDefault();
  go();
});

function focusOn(element) {
  if (!element) return;
  element.scrollIntoView({ block: "center" });
  element.focus({ preventScroll: true });
}

function press(selector) {
  const button = document.querySelector(selector);
  if (button) button.click();
}
