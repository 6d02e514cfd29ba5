// Before the first paint: there are scripts, and the theme that was chosen, so that the page does not flash. Without a choice the
// system's counts.
(function () {
  var root = document.documentElement;
  root.classList.add("scripted");
  var chosen = null;
  try { chosen = localStorage.getItem("theme"); } catch { /* private windows may refuse */ }
  if (chosen) root.dataset.theme = chosen;
})();
