// The drawer: its pin, and the row whose trail is open in it.
export const drawer = document.getElementById("drawer");
const pinKey = "pinned:" + (document.body.dataset.company || "");
const showPin = () => {
  const b = drawer?.querySelector("[data-pin]");
  if (b) b.textContent = sessionStorage.getItem(pinKey) === null ? "Pin" : "Unpin";
};
export const close = () => {
  if (!drawer || !drawer.childElementCount) return false;
  drawer.replaceChildren();
  sessionStorage.removeItem(pinKey);
  mark(null);
  return true;
};
export const pin = () => {
  if (!drawer?.childElementCount) return;
  if (sessionStorage.getItem(pinKey) === null) sessionStorage.setItem(pinKey, drawer.innerHTML);
  else sessionStorage.removeItem(pinKey);
  showPin();
};
// The row whose trail is open is marked, so that drawer and table are read together.
const mark = element => {
  document.querySelectorAll("tr.chosen").forEach(r => r.classList.remove("chosen"));
  element?.closest("tr")?.classList.add("chosen");
};

// A page that opens with its drawer begins there.
if (drawer?.childElementCount && !document.querySelector("[autofocus]")) drawer.focus({ preventScroll: true });
if (drawer && !drawer.childElementCount && sessionStorage.getItem(pinKey) !== null) {
  drawer.innerHTML = sessionStorage.getItem(pinKey);
  window.htmx?.process(drawer);
  showPin();
}
document.addEventListener("htmx:afterSwap", e => {
  if (e.detail.target !== drawer) return;
  if (sessionStorage.getItem(pinKey) !== null) sessionStorage.setItem(pinKey, drawer.innerHTML);
  showPin();
  const { elt, verb } = e.detail.requestConfig || {};
  mark(elt?.closest?.("main") ? elt : null);
  // What was pressed in the drawer itself is gone with what stood there.
  if (elt && (!elt.isConnected || elt.closest("main"))) begin(verb === "get");
});

// Typing goes on in what came: at the fault of what was sent, at the first field of what was opened, where a proposed number waits to be overtyped.
const begin = opened => {
  const field = drawer.querySelector(":is(input, select, textarea):is([aria-invalid=true], .field:has(.fault) *)")
    || (opened ? drawer.querySelector("input:not([type=hidden]), select, textarea") : null);
  (field || drawer).focus({ preventScroll: !field });
  if (field?.hasAttribute("data-proposed")) field.select();
};

// What is typed in it is not lost without a question.
export const leave = () =>
  window.Assignum.mayLose(drawer).then(lose => {
    if (lose) close();
  });

document.addEventListener("click", e => {
  if (e.target.closest("[data-close]")) {
    e.preventDefault();
    leave();
  } else if (e.target.closest("[data-pin]")) {
    e.preventDefault();
    pin();
  }
});
