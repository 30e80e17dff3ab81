// The database is away: look until it is back. A page loads again by itself; a form waits for the one who typed it.
(() => {
  const status = document.getElementById("away"),
    again = document.querySelector("form button");
  const look = async () => {
    const ready = await fetch("/health/ready", { cache: "no-store" }).then(
      r => r.ok,
      () => false,
    );
    if (!ready) {
      setTimeout(look, 2000);
      return;
    }
    if (document.body.dataset.away === "look") {
      location.reload();
      return;
    }
    status.textContent = "The database is back.";
    again.disabled = false;
    again.focus();
  };
  setTimeout(look, 1000);
})();
