// Two people at one draft see each other: an open page asks now and then, tells what others did, and draws anew what can be drawn anew.
const draft = document.querySelector("[data-draft]"),
  note = document.getElementById("draft-note"),
  ASK = 4000;
const showDraft = (text, stamp) => {
  draft.textContent = text;
  document.body.dataset.stamp = stamp;
};
const askDraft = async () => {
  const answer = await fetch(
    `/${document.body.dataset.company}/draft-state?stamp=${encodeURIComponent(document.body.dataset.stamp)}&since=${document.body.dataset.since}`,
    { headers: { Accept: "application/json", "X-Part": "yes" } },
  );
  if (answer.status !== 200) return;
  const { text, stamp, said, more, since } = await answer.json();
  showDraft(text, stamp);
  document.body.dataset.since = since;
  document.body.dispatchEvent(new CustomEvent("draft-changed"));
  if (!said.length || !note) return;
  const line = t => {
      const p = document.createElement("p");
      p.textContent = t;
      return p;
    },
    away = document.createElement("button");
  away.type = "button";
  away.className = "plain";
  away.textContent = "Seen";
  away.addEventListener("click", () => {
    note.hidden = true;
  });
  note.replaceChildren(...said.map(line), ...(more ? [line(`and ${more} more`)] : []), away);
  note.hidden = false;
};
if (draft && document.body.dataset.stamp) {
  document.body.addEventListener("draft-seen", e => showDraft(e.detail.text, e.detail.stamp));
  setInterval(() => {
    if (!document.hidden) askDraft().catch(() => {});
  }, ASK);
}
