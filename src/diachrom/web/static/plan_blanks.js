// Choosing a blank fills in its usual length.
document.addEventListener("change", (event) => {
  const usual = event.target.dataset?.usual,
    length = document.querySelector("[name=length_mm]");
  if (usual && length) length.value = usual;
});
