// On a phone a strip keeps the next step in sight, but not while the step itself is.
let watcher = null;
export function watchNext() {
  if (watcher) watcher.disconnect();
  const strip = document.querySelector("[data-strip]");
  const next = document.getElementById("next");
  if (!strip || !next) return;
  watcher = new IntersectionObserver(([seen]) => { strip.hidden = seen.isIntersecting; }, { threshold: 0.5 });
  watcher.observe(next);
}
document.addEventListener("DOMContentLoaded", watchNext);
