// What scripts say: English is its key; a page in another language brings what it is there.
const brought = document.getElementById("script-words");
const known = brought ? JSON.parse(brought.textContent) : {};

/** A sentence, with what stands in its places. */
export const _ = (text, places = {}) => (known[text] ?? text).replace(/\{(\w+)\}/g, (place, name) =>
  places[name] ?? place);
