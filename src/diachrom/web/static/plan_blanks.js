// Choosing a blank fills in its usual length; a page to print prints.
(() => {
  document.addEventListener("change", (event) => {
    const usual = event.target.dataset?.usual, length = document.querySelector("[name=length_mm]");
    if (usual && length) length.value = usual;
  });
  document.addEventListener("click", (event) => { if (event.target.closest("[data-print]")) print(); });
})();
