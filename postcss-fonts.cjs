/**
 * The fonts that ship come with "swap": words are drawn in another type first, and everything moves when the font is there. With
 * "optional" (CSS Fonts level 4, section 4.9.2) a font that is not there at once is used from the next page on, and nothing moves.
 */
module.exports = () => ({
  postcssPlugin: "fonts-that-move-nothing",
  AtRule: {
    "font-face": (rule) =>
      rule.walkDecls("font-display", (d) => {
        d.value = "optional";
      }),
  },
});
module.exports.postcss = true;
