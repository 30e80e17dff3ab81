// Every question of a page to the server goes through here. Where the session has ended, the page asks for the sign-in, keeps what was typed, and goes on.
window.Assignum = (() => {
  const A = {};
  let signingIn = null;

  const parts = html => {
    const part = document.createElement("div");
    part.innerHTML = html;
    return part;
  };
  const tokens = token => {
    document.body.setAttribute("hx-headers", JSON.stringify({ RequestVerificationToken: token }));
    document.querySelectorAll("input[name=__RequestVerificationToken]").forEach(field => {
      field.value = token;
    });
  };

  // The sign-in within the page. True: the same person is there again; false: not now.
  A.signIn = () =>
    (signingIn ??= new Promise(done => {
      const dialog = document.createElement("dialog"),
        before = document.activeElement;
      dialog.className = "again";
      dialog.setAttribute("aria-labelledby", "again-title");
      const part = document.createElement("div");
      dialog.innerHTML = `<h2 id="again-title">Your session has ended</h2><p>Sign in, and the page goes on where it was. What you typed is still here.</p>`;
      dialog.append(part);
      document.body.append(dialog);
      const end = there => {
        dialog.close();
        dialog.remove();
        signingIn = null;
        before?.focus?.();
        done(there);
      };
      const show = html => {
        part.replaceChildren(...parts(html).childNodes);
        const name = part.querySelector("[name=name]");
        if (name) name.value ||= document.body.dataset.name || "";
        [...part.querySelectorAll("input:not([type=hidden])")].find(field => field.value === "")?.focus();
      };
      dialog.addEventListener("cancel", e => {
        e.preventDefault();
        end(false);
      });
      dialog.addEventListener("click", e => {
        if (e.target.closest("[data-not-now]")) end(false);
      });
      dialog.addEventListener("submit", async e => {
        e.preventDefault();
        const answer = await fetch(e.target.action, { method: "POST", body: new URLSearchParams(new FormData(e.target)), headers: { "X-Part": "yes" } });
        if (answer.status !== 204) {
          show(await answer.text());
          return;
        }
        const here = await (await fetch("/here", { headers: { "X-Part": "yes" } })).json();
        if (String(here.person) !== document.body.dataset.person) {
          show(`<p class="fault" role="alert">Somebody else has signed in. This page belongs to whoever opened it: load it again to go on.</p>`);
          return;
        }
        tokens(here.token);
        end(true);
      });
      dialog.showModal();
      fetch("/sign-in?part=true", { headers: { "X-Part": "yes" } })
        .then(a => a.text())
        .then(show);
    }));

  // Asks the server; with the sign-in between, where one is needed. Null: not now. What only helps while somebody types never comes between two keys.
  A.ask = async (address, options = {}, helps = false) => {
    for (;;) {
      const forged = options.method === "POST" ? JSON.parse(document.body.getAttribute("hx-headers")) : {};
      const answer = await fetch(address, { ...options, headers: { ...options.headers, ...forged, "X-Part": "yes" } });
      if (answer.status !== 401) return answer;
      if (helps || !(await A.signIn())) return null;
    }
  };

  // Parts of the page that htmx asks for.
  document.addEventListener("htmx:beforeSwap", e => {
    if (e.detail.xhr.status !== 401) return;
    e.detail.shouldSwap = false;
    const { verb, path, elt, target } = e.detail.requestConfig;
    A.signIn().then(there => {
      if (there && elt.isConnected) window.htmx.ajax(verb.toUpperCase(), path, { source: elt, target });
    });
  });

  // A form that is sent as a whole page asks first whether anybody is still there, so that nothing typed is lost on the way to the sign-in.
  const sent = new WeakSet();
  document.addEventListener("submit", async e => {
    const form = e.target,
      method = e.submitter?.getAttribute("formmethod") || form.method;
    if (
      e.defaultPrevented ||
      method !== "post" ||
      sent.has(form) ||
      form.matches("[data-again]") ||
      !document.body.dataset.person ||
      form.closest("[data-alone]")
    )
      return;
    if (form.hasAttribute("hx-post") || e.submitter?.hasAttribute("hx-post")) {
      if (!form.matches("[data-kept]")) return;
    }
    e.preventDefault();
    const answer = await A.ask("/here").catch(() => null);
    if (!answer) return;
    sent.add(form);
    form.requestSubmit(e.submitter ?? undefined);
    setTimeout(() => sent.delete(form), 0);
  });
  return A;
})();
