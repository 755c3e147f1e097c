// Plus and minus beside a number: for a knuckle, where typing is not wanted.
document.addEventListener("click", (event) => {
  const button = event.target.closest("[data-step]");
  if (!button) return;
  const input = document.getElementById(button.dataset.of);
  const value = Number(input.value || 0) + Number(button.dataset.step);
  input.value = Math.min(Number(input.max), Math.max(Number(input.min), value));
});
