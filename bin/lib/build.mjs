// Builds static/dist: two scripts, one style sheet, and the fonts it names.
import { execFileSync } from "node:child_process";
import { cpSync, mkdirSync, rmSync } from "node:fs";
import { build } from "esbuild";

const out = "static/dist";
rmSync(out, { recursive: true, force: true });
mkdirSync(`${out}/fonts`, { recursive: true });

await build({
  entryPoints: { app: "innerhop/screens/app.js", sheet: "innerhop/visitor/script/sheet.js" },
  outdir: out,
  bundle: true,
  minify: !process.env.PLAIN,
  format: "iife",
  target: "es2022",
  legalComments: "none",
});

for (const [font, axis] of [
  ["atkinson-hyperlegible-next", "wght"],
  ["atkinson-hyperlegible-mono", "wght"],
  ["bricolage-grotesque", "wght"],
]) {
  for (const letters of ["latin", "latin-ext"]) {
    const file = `${font}-${letters}-${axis}-normal.woff2`;
    cpSync(`node_modules/@fontsource-variable/${font}/files/${file}`, `${out}/fonts/${file}`);
  }
}

execFileSync(
  "node_modules/.bin/tailwindcss",
  ["--input", "innerhop/screens/app.css", "--output", `${out}/app.css`, "--minify"],
  { stdio: ["ignore", "ignore", "inherit"] },
);
