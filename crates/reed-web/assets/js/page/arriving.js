// What comes to a page later: drawings, and what is being computed.

// Drawings further down a list come when they are about to be seen.
const drawings = new IntersectionObserver((seen) => {
  for (const { target, isIntersecting } of seen) {
    if (!isIntersecting) continue;
    drawings.unobserve(target);
    fetch(target.dataset.drawn).then((response) => (response.ok ? response.text() : "")).then((svg) => { target.innerHTML = svg; }).catch(() => { /* a line without its picture is a line all the same */ });
  }
}, { rootMargin: "400px" });
document.addEventListener("DOMContentLoaded", () => document.querySelectorAll("[data-drawn]").forEach((place) => drawings.observe(place)));

// A part that waits for a computation asks for itself again until it no longer has to; the page stays as it is.
async function poll(part) {
  await new Promise((resolve) => setTimeout(resolve, 2000));
  if (!part.isConnected) return;
  let fresh = part;
  try {
    const response = await fetch(part.dataset.poll);
    if (response.ok) {
      fresh = new DOMParser().parseFromString(await response.text(), "text/html").body.firstElementChild;
      // A page that shows more than this part is asked for as a whole when the part is there.
      const then = part.dataset.then;
      if (then === "reload" && !fresh.dataset.poll) location.reload();
      if (then) fresh.dataset.then = then;
      part.replaceWith(fresh);
    }
  } catch { /* The program does not answer just now: asked again. */ }
  if (fresh.dataset.poll) poll(fresh);
}
document.addEventListener("DOMContentLoaded", () => document.querySelectorAll("[data-poll]").forEach(poll));
