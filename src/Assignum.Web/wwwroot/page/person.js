// What this browser keeps belongs to a person: it goes when they sign out, and when somebody else signs in.
const me = document.body.dataset.person;
if (me && sessionStorage.getItem("person") !== me) {
  sessionStorage.clear();
  sessionStorage.setItem("person", me);
}
let gone = false;
document.querySelector("form.who")?.addEventListener("submit", () => {
  gone = true;
  sessionStorage.clear();
});

export const isGone = () => gone;
