// What keepers type is not lost.

// Every form says what the browser's clock shows, as minutes ahead of UTC: "8 pm" is that of whoever types.
document.addEventListener("formdata", (event) => {
  if (event.formData.has("zone")) event.formData.set("zone", String(-new Date().getTimezoneOffset()));
});

// What is typed into a form marked data-keeps outlives a reload and a lost connection; what the server sent back after a refusal is newer.
const keptAs = (form) => "typed:" + location.pathname + "#" + form.id;
function typedIn(form) {
  const data = new URLSearchParams(new FormData(form));
  for (const name of ["units", "zone"]) data.delete(name);
  return data.toString();
}
export function forgetTyped(form) {
  if (!form.id) return;
  try { sessionStorage.removeItem(keptAs(form)); } catch { /* nothing is kept there then */ }
}
document.addEventListener("input", (event) => {
  const form = event.target.form;
  if (!form || !form.matches("form[data-keeps]")) return;
  try { sessionStorage.setItem(keptAs(form), typedIn(form)); } catch { /* a full or forbidden store: the page itself still holds it */ }
});
document.addEventListener("submit", (event) => {
  // A form that leaves the page is answered by another one, or by this one with what was typed.
  if (event.target.matches("form[data-keeps]:not([data-inplace])") && !event.defaultPrevented && navigator.onLine) forgetTyped(event.target);
});
function bringBackTyped(root) {
  for (const form of root.querySelectorAll("form[data-keeps]")) {
    let kept = null;
    try { kept = sessionStorage.getItem(keptAs(form)); } catch { /* none then */ }
    if (!kept || form.querySelector("[aria-invalid=true], .refused[role=alert]")) continue;
    const data = new URLSearchParams(kept);
    for (const field of form.elements) {
      if (!field.name || field.type === "hidden" || !data.has(field.name)) continue;
      if (field.type === "radio" || field.type === "checkbox") field.checked = data.getAll(field.name).includes(field.value);
      else field.value = data.get(field.name);
      const fold = field.closest("details");
      if (fold && field.value && field.value !== field.defaultValue) fold.open = true;
    }
    for (const choice of form.querySelectorAll("select")) choice.dispatchEvent(new Event("change", { bubbles: true }));
  }
}
document.addEventListener("alpine:initialized", () => bringBackTyped(document));
