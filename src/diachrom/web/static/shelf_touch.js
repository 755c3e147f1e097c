// A photo of swatches or bottles, of which nothing is kept: each touch is the colour of the next row.

import { _ } from "./kit/words.js";
import { hex, linear, ring } from "./kit/screen.js";

const file = document.getElementById("touch-file");
if (file) {
  const white = document.getElementById("touch-white");
  const photo = document.getElementById("touch-photo");
  const said = document.getElementById("touch-said");
  const pen = photo.getContext("2d", { willReadFrequently: true });
  const ways = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };
  const [LONGEST, RADIUS, CLIPPED] = [1400, 6, 0.97]; // pixels; linear light
  // a reducer has no colour to touch
  const rows = [...document.querySelectorAll(".listed-bottle:not([data-colourless])")];
  const before = []; // what the rows that were touched held
  let picture = null;
  let light = null; // what the white or grey sends, of each channel
  let row = 0;
  let cross = [0, 0];

  const part = (key, at = row) => rows[at].querySelector(`[name^="${key}-"]`);
  const tellBy = (at, by) => {
    part("told_by", at).value = by;
    rows[at].querySelector(".listed-told").textContent = by;
  };
  const mean = ([x, y]) => {
    const pixels = picture.getImageData(x - RADIUS, y - RADIUS, 2 * RADIUS + 1, 2 * RADIUS + 1)
      .data;
    const sum = [0, 0, 0, 0];
    for (let at = 0; at < pixels.length; at += 4)
      if (pixels[at + 3])[0, 1, 2].forEach((channel) => {
        sum[channel] += linear(pixels[at +
          channel] / 255);
        sum[3] += channel === 0;
      });
    return sum.slice(0, 3).map((one) => one / sum[3]);
  };
  const wanted = () => {
    if (white.value && !light) return _("Touch the {white} in it first.", {
      white: white
        .selectedOptions[0].text
    });
    if (row >= rows.length) return _("All of them are touched.");
    return _("Touch {name}, {place} of {all}.", {
      name: part("name").value || _(
        "the next bottle"),
      place: row + 1,
      all: rows.length
    });
  };
  const tell = (first = "") => {
    said.textContent = `${first} ${wanted()}`.trim();
    rows.forEach((one, at) => one.classList.toggle("touched-next", Boolean(picture) && at ===
      row));
  };
  const draw = () => {
    pen.drawImage(picture.canvas, 0, 0);
    ring(pen, ...cross, 2 * RADIUS);
  };
  const put = (colour, by) => {
    part("colour").value = colour;
    part("colour").dispatchEvent(new Event("input", { bubbles: true }));
    tellBy(row, by);
  };
  const take = () => {
    const seen = mean(cross);
    if (Math.max(...seen) > CLIPPED) return tell(
      _("It is burnt out there: touch a part on which no lamp shines."));
    if (white.value && !light) {
      if (Math.min(...seen) < 0.02) return tell(_("It is black there."));
      light = seen.map((one) => one / Number(white.value));
      return tell();
    }
    if (row >= rows.length) return tell();
    const balanced = seen.map((one, channel) => one / (light ? light[channel] : 1));
    before.push([row, part("colour").value, part("told_by").value]);
    put(hex(balanced), _("touched in a photo"));
    row += 1;
    return tell();
  };

  const without = document.getElementById("without");
  const bare = new Set(rows.filter((one) => one.querySelector(".bead-dashed")));
  // by hand, on the wheel or by a touch
  rows.forEach((one, at) => part("colour", at).addEventListener("input", () => {
    tellBy(at, "");
    if (bare.delete(one) && without) without.textContent = Math.max(0, Number(without
      .textContent) - 1);
  }));
  const readAtTheBench = async (photo) => {
    const form = new FormData();
    form.append("file", photo, photo.name);
    const answer = await fetch("/shelf/start/photo", {
      method: "POST",
      body: form,
      headers: { "HX-Request": "true" }
    }).catch(() => { throw Error(_("The photo could not be sent.")); });
    if (!answer.ok) throw Error(await answer.text());
    return createImageBitmap(await answer.blob());
  };
  file.addEventListener("change", async () => {
    let image;
    said.textContent = _("Reading the photo …");
    try {
      image = await createImageBitmap(file.files[0])
        .catch(() => readAtTheBench(file.files[0])); // as phones keep them
    } catch (wrong) {
      said.textContent = wrong.message;
      return;
    }
    const scale = Math.min(1, LONGEST / Math.max(image.width, image.height));
    photo.width = Math.round(scale * image.width);
    photo.height = Math.round(scale * image.height);
    picture = new OffscreenCanvas(photo.width, photo.height).getContext(
      "2d", { willReadFrequently: true });
    picture.drawImage(image, 0, 0, photo.width, photo.height);
    cross = [Math.round(photo.width / 2), Math.round(photo.height / 2)];
    light = null;
    document.getElementById("touching").hidden = false;
    document.getElementById("touch").open = true;
    draw();
    tell();
  });
  white.addEventListener("change", () => {
    light = null;
    tell();
  });
  photo.addEventListener("pointerdown", (event) => {
    const box = photo.getBoundingClientRect();
    cross = [Math.floor(((event.clientX - box.left) / box.width) * photo.width), Math.floor(((
      event.clientY - box.top) / box.height) * photo.height)];
    draw();
    take();
  });
  photo.addEventListener("keydown", (event) => {
    const way = ways[event.key];
    if (!way && event.key !== "Enter") return;
    event.preventDefault();
    event.stopPropagation();
    if (!way) return take();
    const step = event.shiftKey ? 1 : 12;
    cross = [Math.min(Math.max(cross[0] + step * way[0], 0), photo.width - 1), Math.min(Math
      .max(cross[1] + step * way[1], 0), photo.height - 1)];
    return draw();
  });
  document.getElementById("touch-skip").addEventListener("click", () => {
    if (row < rows.length)
      row += 1;
    tell();
  });
  document.getElementById("touch-back").addEventListener("click", () => {
    const last = before.at(-1);
    if (last && last[0] === row - 1) {
      before.pop();
      row -= 1;
      put(last[1], last[2]);
    } else if (row > 0) row -= 1;
    tell();
  });
  // a photo that was chosen before the page listened
  if (file.files.length) file.dispatchEvent(new Event("change"));
}
