// Masks that lie on the bait while the layer that is worked on is laid: seen on the picture as what they are.

const PAPER = [0.62, 0.6, 0.52], // linear light of a mask
  SEEN = 0.72; // of what it covers

/**
 * Masks on the picture.
 * @param {{own: string, sheet: function(): HTMLElement, shown: function()}} page its address, its layers, what is called
 *   when they have come
 */
export const showsMasks = ({ own, sheet, shown }) => {
  let of = "",
  covered = null;
  return {
    async look_up() {
      const { masked, revision } = sheet().dataset, wanted = masked ? `${revision}:${masked}` :
        "";
      if (wanted === of) return;
      of = wanted;
      let found = null;
      if (wanted) {
        const answer = await fetch(`${own}/layers/${masked}/covered`);
        found = answer.ok ? new Uint8Array(await answer.arrayBuffer()) : null;
      }
      if (of !== wanted) return;
      covered = found;
      shown();
    },
    // Colours of a skin, in linear light, by angle: what a mask covers is seen through it faintly.
    cover(skin, colours, tone) {
      if (!covered) return;
      const u = 120,
        v = 48;
      for (let i = 0; i < skin.u; i++)
        for (let j = 0; j < skin.half; j++) {
          const cell = Math.floor(i * u / skin.u) * v + Math.floor(j * v / skin.v),
            share = SEEN * covered[cell] / 255,
            at = 3 * (i * skin.half + j);
          if (share)
            for (const colour of colours)
              for (let c = 0; c < 3; c++) colour[at + c] += (PAPER[c] * tone[c] - colour[at +
                  c]) *
                share;
        }
    }
  };
};
