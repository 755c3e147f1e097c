// The Mix page's hands: pouring drops as fast as they are pressed, picking a bottle, choosing from what was found.
(() => {
  const mix = () => document.getElementById("mix");
  const rows = () => [...document.querySelectorAll(".row-bottle")];
  const picked = () => rows().find((row) => row.classList.contains("picked"));
  let pickedBottle = null;

  const pick = (row) => {
    if (!row) return;
    pickedBottle = row.dataset.bottle;
    for (const other of rows()) other.classList.toggle("picked", other === row);
    row.scrollIntoView({ block: "nearest" });
  };
  const pickAgain = () => pick(rows().find((row) => row.dataset.bottle === pickedBottle) ?? rows().at(-1));

  const send = (path, values) => htmx.ajax("POST", path, { target: "#mix", swap: "outerHTML", values });

  // Presses that come while an answer is under way are added up and sent together, so that none is lost.
  const waiting = new Map();
  let pouring = false;
  const pour = async (row, drops) => {
    const count = row.querySelector(".count");
    const shown = Math.max(0, Number(count.value || 0) + drops);
    count.value = shown;
    const bottle = row.dataset.bottle;
    waiting.set(bottle, (waiting.get(bottle) ?? 0) + drops);
    if (pouring) return;
    pouring = true;
    while (waiting.size) {
      const [[next, sum]] = waiting;
      waiting.delete(next);
      if (sum) await send("/mix/pour", { bottle: next, drops: sum });
    }
    pouring = false;
  };
  // What was pressed meanwhile is not in the answer yet: show it on top.
  const showWaiting = () => {
    for (const [bottle, drops] of waiting) {
      const count = document.getElementById(`count-${bottle}`);
      if (count) count.value = Math.max(0, Number(count.value) + drops);
    }
  };

  document.addEventListener("click", (event) => {
    const button = event.target.closest("[data-pour]");
    if (button) {
      event.preventDefault();
      const row = button.closest(".row-bottle");
      pick(row);
      pour(row, Number(button.dataset.pour));
      return;
    }
    const row = event.target.closest(".row-bottle");
    if (row && !event.target.closest("button")) pick(row);
    if (!event.target.closest(".add")) closeFound();
  });

  // Digits typed within a moment of each other make one number.
  let digits = "";
  let digitsTimer = 0;
  const digit = (key) => {
    const row = picked();
    if (!row) return;
    digits = (digits + key).slice(0, 3);
    row.querySelector(".count").value = Number(digits);
    clearTimeout(digitsTimer);
    digitsTimer = setTimeout(() => {
      const drops = digits;
      digits = "";
      send("/mix/drops", { bottle: row.dataset.bottle, drops });
    }, 550);
  };

  const step = (by) => {
    const all = rows();
    if (!all.length) return;
    const at = all.indexOf(picked());
    pick(all[Math.min(all.length - 1, Math.max(0, at + by))]);
  };

  const press = (id) => document.getElementById(id)?.click();
  const save = () => {
    const name = document.getElementById("name");
    if (name.value.trim()) return press("save");
    document.getElementById("said").textContent = "Give the recipe a name before saving it.";
    name.focus();
  };
  const keys = {
    ArrowUp: () => step(-1),
    ArrowDown: () => step(1),
    "+": () => picked() && pour(picked(), 1),
    "-": () => picked() && pour(picked(), -1),
    u: () => press("undo"),
    r: () => press("redo"),
    c: () => press("clear"),
    s: save,
  };
  document.addEventListener("key", (event) => {
    if (/^[0-9]$/.test(event.detail)) { digit(event.detail); event.preventDefault(); }
    else if (Object.hasOwn(keys, event.detail)) { keys[event.detail](); event.preventDefault(); }
  });

  // The bottles found: arrow keys walk them, Enter takes one.
  const found = () => [...document.querySelectorAll("#found .found-bottle")];
  const closeFound = () => {
    const list = document.getElementById("found");
    if (list) list.replaceChildren();
    document.getElementById("add")?.setAttribute("aria-expanded", "false");
  };
  const select = (option) => {
    for (const other of found()) other.setAttribute("aria-selected", String(other === option));
    option?.scrollIntoView({ block: "nearest" });
  };
  document.addEventListener("keydown", (event) => {
    if (event.target.id !== "add") return;
    const all = found();
    const at = all.findIndex((one) => one.getAttribute("aria-selected") === "true");
    if (event.key === "ArrowDown") select(all[Math.min(all.length - 1, at + 1)]);
    else if (event.key === "ArrowUp") select(all[Math.max(0, at - 1)]);
    else if (event.key === "Enter") (all[at] ?? all[0])?.click();
    else if (event.key === "Escape") closeFound();
    else return;
    event.preventDefault();
  });

  document.addEventListener("picked", (event) => {
    pickedBottle = String(event.detail.value ?? event.detail);
    document.getElementById("add").blur();
  });
  document.addEventListener("htmx:afterSettle", (event) => {
    if (event.target.id === "found") {
      document.getElementById("add").setAttribute("aria-expanded", String(found().length > 0));
      select(found()[0]);
      const box = document.getElementById("add").getBoundingClientRect();
      const [above, below] = [box.top - 12, innerHeight - box.bottom - 12];
      const upwards = below < 240 && above > below;
      event.target.classList.toggle("upwards", upwards);
      event.target.style.maxHeight = `${Math.max(120, upwards ? above : below)}px`;
    }
    if (event.target.id === "mix") { pickAgain(); showWaiting(); }
  });
  // A refused number goes back to what is in the cup.
  document.addEventListener("htmx:responseError", () => {
    for (const count of document.querySelectorAll(".count")) count.value = count.defaultValue;
  });
  pickAgain();
})();
