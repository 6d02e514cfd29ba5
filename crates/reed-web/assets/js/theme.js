// Before the first paint: the theme that was chosen, so that the page does not flash. Without a choice the system's counts.
(function () {
  var chosen = null;
  try { chosen = localStorage.getItem("theme"); } catch (e) { /* private windows may refuse */ }
  if (chosen) document.documentElement.dataset.theme = chosen;
})();
