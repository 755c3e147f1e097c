// A field that asks for grams takes them from the bench's scale.
import { _ } from "./words.js";

document.addEventListener("click", async (event) => {
  const button = event.target.closest("[data-weigh]");
  if (!button) return;
  const form = button.closest("form"),
    field = form.elements[button.dataset.weigh];
  form.querySelector(".weigh-said")?.remove();
  button.disabled = true;
  let said = "";
  try {
    const answer = await fetch("/devices/scale/grams", { headers: { "HX-Request": "true" } });
    if (answer.ok) {
      field.value = (await answer.json()).grams;
      field.dispatchEvent(new Event("change", { bubbles: true }));
    } else {
      const told = document.createElement("template");
      told.innerHTML = await answer.text();
      said = told.content.textContent.trim();
    }
  } catch {
    said = _("Nobody answers: is the bench switched on?");
  }
  button.disabled = false;
  if (!said) return;
  const line = Object.assign(document.createElement("p"), {
    className: "weigh-said said",
    textContent: said
  });
  line.setAttribute("role", "alert");
  button.after(line);
});
