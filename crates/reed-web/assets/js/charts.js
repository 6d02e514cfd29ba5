// What is expected is drawn behind what was read when it is there; a chart as a picture: the drawing as it is taken away, painted onto
// a canvas.

import { announce } from "./announce.js";

// Sharp enough to be printed.
const SCALE = 2;

async function picture(button) {
  const response = await fetch(button.dataset.svg);
  if (!response.ok) throw new Error(response.status);
  const image = new Image();
  image.src = "data:image/svg+xml;charset=utf-8," + encodeURIComponent(await response.text());
  await image.decode();
  const canvas = document.createElement("canvas");
  canvas.width = SCALE * image.naturalWidth;
  canvas.height = SCALE * image.naturalHeight;
  canvas.getContext("2d").drawImage(image, 0, 0, canvas.width, canvas.height);
  const link = document.createElement("a");
  link.href = canvas.toDataURL("image/png");
  link.download = button.dataset.name + ".png";
  link.click();
  button.dataset.made = canvas.width + "x" + canvas.height;
}

const drawn = document.getElementById("drawn");
if (drawn?.dataset.expected) {
  try {
    const response = await fetch(drawn.dataset.expected);
    if (response.ok) drawn.innerHTML = await response.text();
  } catch { /* What was read stands without it. */ }
  drawn.dataset.ready = "yes";
}

document.getElementById("as-png")?.addEventListener("click", async (event) => {
  const button = event.currentTarget;
  button.classList.add("is-loading");
  try {
    await picture(button);
    announce("Picture made");
  } catch {
    announce("No picture: the program does not answer. Try once more.", true);
  }
  button.classList.remove("is-loading");
});
