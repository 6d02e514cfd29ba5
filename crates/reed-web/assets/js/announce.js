// Says something to everybody: seen below, read out by screen readers.

export function announce(words, loudly) {
  const place = document.querySelector("[data-announce]");
  place.textContent = words;
  place.classList.toggle("loud", Boolean(loudly));
}
