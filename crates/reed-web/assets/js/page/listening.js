// Work of some seconds that the program tells of as it goes. `parts` are what shows it: `searching`
// (hidden when nothing is under way), `searched` (words), `share` (percent) and `found`.
export function listen(address, parts, { found, ended }) {
  const source = new EventSource(address);
  const { searching, searched, share } = parts;
  parts.found.replaceChildren();
  searching.hidden = false;
  searched.textContent = "Beginning";
  share.value = 0;
  const stop = () => {
    source.close();
    searching.hidden = true;
    ended();
  };
  const end = (words) => {
    stop();
    parts.found.textContent = words;
  };
  source.addEventListener("progress", (event) => {
    const [percent, ...words] = event.data.split(" ");
    share.value = Number(percent);
    searched.textContent = words.join(" ");
  });
  source.addEventListener("found", (event) => {
    stop();
    parts.found.replaceChildren(...new DOMParser().parseFromString(event.data, "text/html").body.children);
    found();
    parts.found.focus({ preventScroll: true });
  });
  source.addEventListener("failed", (event) => end(event.data));
  source.addEventListener("error", () => end("The search was not finished: the program refused it, or does not answer."));
  return stop;
}
