// A file that is dropped on a page, or a picture that is pasted into it: it goes where the page asks for such a
// file; any other is read as what comes onto the shelf, and shown first.
import { _ } from "./words.js";

const kinds = (input) => input.accept || input.dataset.takes || "";
const takes = (input, file) => {
  const wanted = kinds(input).split(",").map((one) => one.trim()).filter(Boolean);
  return wanted.some((one) =>
    one.startsWith(".") ? file.name.toLowerCase().endsWith(one) :
    one.endsWith("/*") ? file.type.startsWith(one.slice(0, -1)) : file.type === one);
};
// The nearest that asks for such a file; of several as near, the one whose turn it is.
const placeFor = (file, at) => {
  const all = [...document.querySelectorAll("input[type=file]")]
    .filter((one) => !one.disabled && takes(one, file));
  for (let place = at ?? document.body; place; place = place.parentNode) {
    const own = all.filter((one) => place.contains(one));
    if (own.length) return own.find((one) => one.closest(".next")) ?? own[0];
  }
  return null;
};
const tell = (text) => {
  let said = document.getElementById("said");
  if (!said) {
    said = Object.assign(document.createElement("p"), { id: "said", className: "said" });
    said.setAttribute("role", "alert");
    document.querySelector("main").prepend(said);
  }
  said.textContent = text;
  said.scrollIntoView({ block: "center" });
};
const bring = async (file) => {
  const form = new FormData();
  form.append("file", file, file.name);
  tell(_("Reading the file …"));
  try {
    const headers = { "HX-Request": "true" };
    const answer = await fetch("/files/import", { method: "POST", body: form, headers });
    const shown = answer.headers.get("HX-Redirect");
    if (shown) location.href = shown;
    else tell(await answer.text());
  } catch {
    tell(_("The file could not be sent."));
  }
};
const take = (file, at) => {
  const input = placeFor(file, at);
  if (!input) return bring(file);
  const held = new DataTransfer();
  held.items.add(file);
  input.files = held.files;
  input.closest("details")?.setAttribute("open", "");
  input.dispatchEvent(new Event("input", { bubbles: true }));
  input.dispatchEvent(new Event("change", { bubbles: true }));
  input.scrollIntoView({ block: "center" });
  input.focus();
};
const hasFiles = (event) => event.dataTransfer?.types.includes("Files");
document.addEventListener("dragover", (event) => {
  if (hasFiles(event)) event.preventDefault();
});
document.addEventListener("drop", (event) => {
  if (!hasFiles(event) || event.target.matches?.("input[type=file]")) return;
  event.preventDefault();
  const [file] = event.dataTransfer.files;
  if (file) take(file, event.target);
});
document.addEventListener("paste", (event) => {
  const [file] = event.clipboardData?.files ?? [];
  if (!file || event.target.matches?.("input, textarea")) return;
  event.preventDefault();
  take(file, event.target);
});
