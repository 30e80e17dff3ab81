// What the server did not do is said where it was asked for.
// A request that is cut off by leaving the page is no fault.
let leaving = false;
window.addEventListener("beforeunload", () => {
  leaving = true;
});
const complain = e => {
  if (leaving) return;
  const p = document.createElement("p");
  p.className = "fault";
  p.setAttribute("role", "alert");
  p.textContent =
    e.detail.xhr?.status === 503
      ? "The database can't be reached at the moment, and nothing was changed. What you typed is still here; try again in a while."
      : e.detail.xhr?.status === 429
        ? "That was more often than this page is asked for. Wait a minute, then go on; what you typed is still here."
        : "The server did not answer as it should. Nothing was changed; load the page again and repeat the act.";
  (e.detail.target || document.getElementById("page")).prepend(p);
};
// What could not be read the last time is told once, not again beside the next.
document.addEventListener("htmx:beforeSwap", e => e.detail.target?.querySelectorAll?.(":scope > .fault.unread").forEach(told => told.remove()));
document.addEventListener("htmx:responseError", complain);
document.addEventListener("htmx:sendError", complain);
