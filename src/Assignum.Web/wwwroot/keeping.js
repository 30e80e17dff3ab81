// Nothing half typed is lost without a question: not by a link, not by Esc, not by closing the window.
(() => {
  const A = window.Assignum,
    half = new Set();
  const watched = form => form?.method === "post" && !form.matches("[data-kept], [data-loose], [data-again]");
  const open = within => [...half].filter(form => form.isConnected && (!within || within.contains(form)));

  document.addEventListener("input", e => {
    const form = e.target.form ?? e.target.closest("form");
    if (watched(form) && e.target.name && e.target.type !== "checkbox" && e.target.type !== "radio") half.add(form);
  });
  document.addEventListener("submit", e => {
    if (!e.defaultPrevented || e.target.hasAttribute("hx-post")) half.delete(e.target);
  });
  // What comes back refused is half typed still.
  document.addEventListener("htmx:afterSwap", e => {
    const form = e.detail.target?.querySelector?.("form:has(.fault)");
    if (watched(form)) half.add(form);
  });

  const nameOf = form => form.closest("#drawer, main")?.querySelector("h2, h1")?.textContent.trim() || "this form";
  // True when there is nothing to lose, or whoever typed it lets it go.
  A.mayLose = within =>
    new Promise(done => {
      const forms = open(within);
      if (forms.length === 0) {
        done(true);
        return;
      }
      const dialog = document.createElement("dialog"),
        before = document.activeElement;
      dialog.className = "leave";
      dialog.innerHTML = `<h2>Not saved yet</h2><p></p><p class="row-of"><button type="button" class="act main" data-stay>Stay</button>
        <button type="button" class="act" data-leave>Leave without saving</button></p>`;
      dialog.querySelector("p").textContent = `What you typed under “${nameOf(forms[0])}” is not saved.`;
      const end = leave => {
        dialog.close();
        dialog.remove();
        if (leave) forms.forEach(form => half.delete(form));
        else before?.focus?.();
        done(leave);
      };
      dialog.addEventListener("cancel", e => {
        e.preventDefault();
        end(false);
      });
      dialog.addEventListener("click", e => {
        if (e.target.closest("[data-stay]")) end(false);
        else if (e.target.closest("[data-leave]")) end(true);
      });
      document.body.append(dialog);
      dialog.showModal();
      dialog.querySelector("[data-stay]").focus();
    });

  // A link to another page.
  document.addEventListener("click", async e => {
    const link = e.target.closest("a[href]");
    if (
      !link ||
      e.defaultPrevented ||
      e.ctrlKey ||
      e.metaKey ||
      e.shiftKey ||
      link.target ||
      link.hasAttribute("hx-get") ||
      link.hasAttribute("hx-post") ||
      link.getAttribute("href").startsWith("#") ||
      open().length === 0
    )
      return;
    e.preventDefault();
    if (await A.mayLose()) location.assign(link.href);
  });
  // A part that takes the place of the form.
  document.addEventListener("htmx:confirm", e => {
    const { target, elt } = e.detail,
      lost = target ? open(target) : [];
    if (lost.length === 0 || lost.some(form => form.contains(elt))) return;
    e.preventDefault();
    A.mayLose(target).then(lose => {
      if (lose) e.detail.issueRequest(true);
    });
  });
  window.addEventListener("beforeunload", e => {
    if (open().length > 0) e.preventDefault();
  });
})();
