// On paper goes the whole list, as it is narrowed now.
const printed = () => {
  const address = new URL(location.href);
  address.searchParams.delete("handler");
  address.searchParams.set("print", "yes");
  address.hash = "";
  return address.href;
};
document.addEventListener("click", e => {
  if (e.target.closest("[data-print]")) {
    e.preventDefault();
    window.Assignum.mayLose().then(lose => {
      if (lose) location.assign(printed());
    });
  } else if (e.target.closest("[data-print-now]")) window.print();
});
document.addEventListener("keydown", e => {
  if (e.key !== "p" || !(e.ctrlKey || e.metaKey) || !document.querySelector("[data-print]")) return;
  e.preventDefault();
  window.Assignum.mayLose().then(lose => {
    if (lose) location.assign(printed());
  });
});
