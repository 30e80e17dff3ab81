// Small help in forms: offered numbers, menus that close, all boxes at once, lists that send themselves.
// A free number that is offered goes into the field at a click; a menu closes when something else is pointed at.
document.addEventListener("click", e => {
  const free = e.target.closest("[data-number]");
  if (free) {
    const field = free.closest("form").elements.Number;
    field.value = free.dataset.number;
    field.dispatchEvent(new Event("input", { bubbles: true }));
    field.focus();
  }
  document.querySelectorAll("details.more[open]").forEach(d => {
    if (!d.contains(e.target)) d.open = false;
  });
});
// A button for what is ticked waits for the first tick, and says so.
const waitForTicks = () =>
  document.querySelectorAll("[data-ticked]").forEach(button => {
    button.disabled = !document.querySelector(`input[name="${button.dataset.ticked}"]:checked`);
    button.nextElementSibling.hidden = !button.disabled;
  });
document.addEventListener("change", waitForTicks);
document.addEventListener("htmx:afterSettle", waitForTicks);
waitForTicks();
document.addEventListener("click", e => {
  const all = e.target.closest("[data-all]");
  if (all)
    document.querySelectorAll(`input[name="${all.dataset.all}"]`).forEach(box => {
      box.checked = all.checked;
    });
});
document.addEventListener("change", e => {
  if (e.target.matches("[data-submit]")) e.target.form.requestSubmit();
});
