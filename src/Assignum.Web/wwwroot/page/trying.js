// The form of an event that is being tried: its lines grow, its answers stand beside them, and what is typed is kept.
import { isGone } from "./person.js";
import { nextId, nextName } from "./numbering.js";

// A line is added to the try-out when the last one is begun, so that the keyboard never leaves the table.
const grow = body => {
  const next = body.lastElementChild.cloneNode(true),
    n = body.children.length;
  next.querySelectorAll("[id]").forEach(i => {
    i.id = nextId(i.id, n);
  });
  next.querySelectorAll(".warns").forEach(w => w.remove());
  next.querySelectorAll("[data-taken]").forEach(i => {
    delete i.dataset.taken;
  });
  next.querySelectorAll("[name]").forEach(i => {
    i.name = nextName(i.name, n);
    if (i.type !== "checkbox") i.value = i.dataset.start || "";
  });
  next.querySelectorAll("[data-clear]").forEach(x => x.replaceChildren());
  body.append(next);
  window.htmx?.process(next);
};
document.addEventListener("input", e => {
  const body = e.target.closest("tbody[data-grows]");
  if (body && e.target.closest("tr") === body.lastElementChild) grow(body);
});

// What the answer says of each line goes beside the line.
document.addEventListener("htmx:afterSwap", e => {
  for (const said of e.detail.target?.querySelector("template[data-beside]")?.content.children ?? []) {
    const place = document.getElementById(said.dataset.for);
    if (!place) continue;
    if (said.dataset.cant) place.dataset.cant = said.dataset.cant;
    else delete place.dataset.cant;
    if (place.innerHTML !== said.innerHTML) place.innerHTML = said.innerHTML;
  }
});

// A form that is being tried survives a walk to the place where something is mended, until it is posted.
const kept = document.querySelector("form[data-kept]"),
  keptKey = "kept:" + location.pathname + ":" + kept?.dataset.kept;
const field = (form, name) => form.elements.namedItem(name);
// What was tried lately in this window, the last first; it goes with the forms that are kept when somebody else signs in.
const triedKey = "kept:tried:" + location.pathname,
  mostTried = 8;
const tried = () => JSON.parse(sessionStorage.getItem(triedKey) || "[]");
if (kept) {
  const fields = () => [...kept.elements].filter(f => f.name && f.type !== "hidden");
  const asked = new URLSearchParams(location.search),
    lately = asked.get("lately"),
    begun = [...asked.keys()].some(name => name !== "type"),
    stored = lately ? tried().find(one => one.id === lately)?.fields : begun ? null : JSON.parse(sessionStorage.getItem(keptKey) || "null");
  if (stored && !kept.dataset.answered) {
    const body = kept.querySelector("tbody[data-grows]");
    for (const [name, value] of stored) {
      while (body && /\[\d+\]/.test(name) && !field(kept, name) && body.children.length < 500) grow(body);
      const f = field(kept, name);
      if (f?.type === "checkbox") f.checked = value;
      else if (f) f.value = value;
    }
    // The form listens only once the page is ready.
    document.addEventListener("DOMContentLoaded", () => kept.dispatchEvent(new Event("change", { bubbles: true })));
  }
  const menu = document.querySelector("[data-lately]");
  if (menu) {
    menu.hidden = tried().length === 0;
    menu.querySelector("div").replaceChildren(
      ...tried().map(one => {
        const link = document.createElement("a");
        link.href = `${location.pathname}?type=${encodeURIComponent(one.type)}&lately=${one.id}`;
        link.textContent = one.label;
        return link;
      }),
    );
  }
  let waiting = 0,
    sent = false,
    typed = false;
  const remember = () => {
    if (!typed || isGone()) return;
    const now = fields().map(f => [f.name, f.type === "checkbox" ? f.checked : f.value]),
      what = document.querySelector("#standing b")?.textContent.trim() || now.find(([, value]) => typeof value === "string" && value)?.[1] || "";
    const label = `${document.querySelector("h1").textContent.trim()} · ${what}`.replace(/[ .·]+$/, "");
    const others = tried().filter(one => one.type !== kept.dataset.kept || JSON.stringify(one.fields) !== JSON.stringify(now));
    const all = [{ id: String(Date.now()), type: kept.dataset.kept, label, fields: now }, ...others].slice(0, mostTried);
    sessionStorage.setItem(triedKey, JSON.stringify(all));
  };
  const keep = () => {
    waiting = 0;
    if (!isGone()) sessionStorage.setItem(keptKey, JSON.stringify(fields().map(f => [f.name, f.type === "checkbox" ? f.checked : f.value])));
  };
  const forget = () => {
    clearTimeout(waiting);
    waiting = 0;
    sessionStorage.removeItem(keptKey);
  };
  kept.addEventListener("input", e => {
    if (e.isTrusted) [sent, typed] = [false, true];
    if (!sent) waiting ||= setTimeout(keep, 100);
  });
  window.addEventListener("pagehide", () => {
    remember();
    if (waiting) keep();
  });
  // A choice that comes back late is no typing: what has been sent is not kept again by it.
  const done = () => {
    sent = true;
    forget();
  };
  kept.addEventListener("submit", done);
  kept.querySelector("[data-empty]")?.addEventListener("click", done);
}

// What has not changed is not drawn again, so that a button is never taken away under the finger that presses it.
document.addEventListener("htmx:oobBeforeSwap", e => {
  if (e.detail.fragment.firstElementChild?.innerHTML === e.detail.target.innerHTML) e.detail.shouldSwap = false;
});

// An amount that is offered goes into its field.
document.addEventListener("click", e => {
  const offer = e.target.closest("[data-fill]"),
    into = offer?.closest("form")?.elements.namedItem(offer.dataset.fill) ?? null;
  if (!into) return;
  into.value = offer.dataset.value;
  into.dispatchEvent(new Event("input", { bubbles: true }));
  into.focus();
});
