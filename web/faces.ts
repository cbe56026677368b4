/** The sheet's typeface in two parts: what every page is written with, small, and the whole of it for names that need more. */
import { mkdirSync, readFileSync, writeFileSync } from "node:fs";
import { fileURLToPath } from "node:url";
import subsetFont from "subset-font";
import type { Plugin } from "vite";

const FACES = ["barlow", "barlow-semi-condensed"];
const WEIGHTS = [400, 600];
/** Plain English, and the signs that figures are written with. */
const USUAL =
  "U+20-7E, U+A0, U+B0-B3, U+B5, U+B7, U+D7, U+2013, U+2014, U+2018, U+2019, U+201C, U+201D, U+2026, U+2212";
const MORE = "U+A1-AF, U+B4, U+B6, U+B8-D6, U+D8-FF, U+131, U+152, U+153, U+2C6, U+2DA, U+2DC, U+2022, U+20AC";

function letters(ranges: string): string {
  return ranges
    .split(", ")
    .map((range) => {
      const [from, to] = range.slice(2).split("-");
      const [first, last] = [parseInt(from!, 16), parseInt(to ?? from!, 16)];
      return String.fromCodePoint(...Array.from({ length: last - first + 1 }, (_, i) => first + i));
    })
    .join("");
}

async function face(family: string, weight: number, out: string): Promise<string> {
  const name = `${family}-latin-${weight}-normal.woff2`;
  const whole = readFileSync(new URL(`node_modules/@fontsource/${family}/files/${name}`, import.meta.url));
  const usual = await subsetFont(whole, letters(USUAL), {
    targetFormat: "woff2",
    noLayoutClosure: true,
    keepFeatures: ["kern", "tnum", "lnum"],
  });
  writeFileSync(`${out}/usual-${name}`, usual);
  writeFileSync(`${out}/more-${name}`, whole);
  const called = family === "barlow" ? "Barlow" : "Barlow Semi Condensed";
  const rule = (part: string, range: string) =>
    `@font-face { font-family: "${called}"; font-style: normal; font-display: swap; font-weight: ${weight};` +
    ` src: url("./${part}-${name}") format("woff2"); unicode-range: ${range}; }\n`;
  return rule("usual", USUAL) + rule("more", MORE);
}

/** Gives `virtual:faces`, a style sheet. */
export function faces(): Plugin {
  const out = fileURLToPath(new URL("node_modules/.faces", import.meta.url));
  return {
    name: "faces",
    async buildStart() {
      mkdirSync(out, { recursive: true });
      const rules = await Promise.all(FACES.flatMap((family) => WEIGHTS.map((weight) => face(family, weight, out))));
      writeFileSync(`${out}/faces.css`, rules.join(""));
    },
    // Asked for with the page: a face that comes later than the words moves them.
    transformIndexHtml: {
      order: "post",
      handler: (_html, { bundle }) =>
        Object.keys(bundle ?? {})
          .filter((file) => file.includes("usual-"))
          .map((file) => ({
            tag: "link",
            attrs: { rel: "preload", as: "font", type: "font/woff2", href: `/${file}`, crossorigin: "" },
            injectTo: "head-prepend" as const,
          })),
    },
    resolveId: (id) => (id === "virtual:faces" ? `${out}/faces.css` : null),
  };
}
