// Sets the remembered theme before the first paint.
(() => {
  const kept = localStorage.getItem("grund.theme");
  const night = matchMedia("(prefers-color-scheme: dark)").matches;
  document.documentElement.dataset.theme = kept === "day" || kept === "night" ? kept : night ? "night" : "day";
})();
