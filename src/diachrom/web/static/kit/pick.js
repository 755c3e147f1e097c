// The photo: the first touch marks the grey patch, the second the field. The figures stay editable.
(() => {
  const form = document.getElementById("pick");
  const photo = document.getElementById("photo");
  const marks = { grey: document.getElementById("mark-grey"), spot: document.getElementById("mark-spot") };
  const inputs = { grey: [form.grey_x, form.grey_y], spot: [form.x, form.y] };
  let next = "grey";

  const draw = () => {
    for (const key of ["grey", "spot"]) {
      const [x, y] = inputs[key].map((input) => input.value);
      for (const ring of marks[key].children) {
        ring.setAttribute("r", x === "" || y === "" ? 0 : Math.max(3, Number(form.radius.value)));
        ring.setAttribute("cx", x || 0);
        ring.setAttribute("cy", y || 0);
      }
    }
  };
  photo.addEventListener("pointerdown", (event) => {
    const size = photo.viewBox.baseVal;
    const place = new DOMPoint(event.clientX, event.clientY).matrixTransform(photo.getScreenCTM().inverse());
    if (place.x < 0 || place.y < 0 || place.x >= size.width || place.y >= size.height) return;
    inputs[next][0].value = Math.floor(place.x);
    inputs[next][1].value = Math.floor(place.y);
    next = next === "grey" ? "spot" : next;
    draw();
  });
  document.getElementById("again").addEventListener("click", () => {
    for (const input of [...inputs.grey, ...inputs.spot]) input.value = "";
    next = "grey";
    draw();
  });
  form.addEventListener("input", draw);
})();
