// What devices send, as it comes: places marked data-live-of show it, with when they heard it.
for (const part of document.querySelectorAll("[data-live]")) {
  const source = new EventSource(part.dataset.live);
  source.addEventListener("reading", (event) => {
    const { analyte, shown } = JSON.parse(event.data);
    for (const place of part.querySelectorAll(`[data-live-of="${CSS.escape(analyte)}"]`)) place.textContent = shown;
    for (const place of part.querySelectorAll(`[data-live-at="${CSS.escape(analyte)}"]`)) place.textContent = "just now";
  });
  addEventListener("pagehide", () => source.close());
}
