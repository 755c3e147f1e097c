// The list of a plan's layers and the form of the one that is worked on: what is typed, chosen and dragged is sent.

import { _ } from "./kit/words.js";

/**
 * Listen to the list.
 * @param {{own: string, change: function(string, object)}} plan its address, and how a change is sent
 */
export const listLayers = ({ own, change }) => {
  let typing = null; // a field that was typed into and not yet sent
  document.addEventListener("input", (event) => {
    if (event.target.closest(".edit-fields")) typing = event.target;
  });
  document.addEventListener("change", (event) => {
    const form = event.target.closest(".edit-fields");
    if (!form) return;
    typing = null;
    const values = {},
      field = event.target;
    for (const one of form.querySelectorAll(
        "input[type=hidden], input[type=checkbox]:checked"))
      values[one.name] = one.value;
    if (field.type !== "checkbox") values[field.name] = field.value;
    change(form.getAttribute("action"), values);
  });
  // What is being typed, or chosen for the next layer, is the hand's: an answer that comes meanwhile
  // leaves it, and a press takes it.
  const choosing = () => [document.getElementById("add-source"), document.getElementById(
    "add-what")];
  Idiomorph.defaults.callbacks.beforeNodeMorphed = (old) => old !== typing && old.id !==
    "looks-list" && !(choosing()
      .includes(
        old) && (old.value || old === document.activeElement));
  // What was opened stays open, whatever comes.
  Idiomorph.defaults.callbacks.beforeAttributeUpdated = (name, node) => !(name === "open" && node
    .closest("#checks, #editor, #looks"));
  document.addEventListener("submit", (event) => {
    if (event.target.id !== "layer-add") return;
    event.preventDefault();
    const [source, what] = choosing(), values = { source: source.value, what: what.value };
    if (!values.source && (!values.what || values.what === "wash")) {
      document.getElementById("said").textContent = values.what ? _(
          "A wash is of a paint: choose which.") :
        _("Choose what the layer is made of first.");
      return source.focus();
    }
    source.value = what.value = "";
    change(event.target.getAttribute("action"), values);
  });
  let lifted = null;
  document.addEventListener("dragstart", (event) => {
    lifted = event.target.closest?.(".layer")
      ?.dataset.number ?? null;
  });
  document.addEventListener("dragover", (event) => {
    if (lifted && event.target.closest(".layer"))
      event.preventDefault();
  });
  document.addEventListener("drop", (event) => {
    const on = event.target.closest(".layer");
    if (!lifted || !on) return;
    event.preventDefault();
    change(`${own}/layers/${lifted}/move`, { to: on.dataset.place });
    lifted = null;
  });
};
