// Builds static/dist: scripts, one style sheet, the fonts it names, and the parts that
// go out with pages. What screens
// ask for has a hash of what is in it in its name, so that browsers keep it for good;
// manifest.json says which name that is.
import { execFileSync } from "node:child_process";
import { createHash } from "node:crypto";
import { cpSync, mkdirSync, readFileSync, readdirSync, renameSync, rmSync, writeFileSync } from "node:fs";
import { build } from "esbuild";

const out = "static/dist";
rmSync(out, { recursive: true, force: true });
mkdirSync(`${out}/fonts`, { recursive: true });

await build({
  entryPoints: { app: "innerhop/screens/app.js", sheet: "innerhop/visitor/script/sheet.js", walker: "innerhop/visitor/walker/walker.js", looker: "innerhop/visitor/walker/looker.js" },
  outdir: out,
  bundle: true,
  minify: !process.env.PLAIN, // PLAIN=1, to read a profile of it
  format: "iife",
  target: "es2022",
  legalComments: "none",
});

// How a hop is followed, for whoever drives a browser from outside.
await build({
  entryPoints: ["innerhop/visitor/walker/following.js"],
  outdir: out,
  bundle: true,
  minify: true,
  format: "iife",
  globalName: "innerHopFollowing",
  target: "es2022",
  legalComments: "none",
});

// What goes out with a site's own pages: plain files, with no name of ours in their way.
await build({
  entryPoints: ["innerhop/visitor/parts/hops.js", "innerhop/visitor/parts/hops.css"],
  outdir: `${out}/parts`,
  minify: true,
  target: ["es2020", "chrome105", "firefox121", "safari15.4"],
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

function hashed(name) {
  const hash = createHash("sha256").update(readFileSync(`${out}/${name}`)).digest("hex").slice(0, 10);
  const [stem, ending] = [name.slice(0, name.lastIndexOf(".")), name.slice(name.lastIndexOf("."))];
  const wanted = `${stem}.${hash}${ending}`;
  renameSync(`${out}/${name}`, `${out}/${wanted}`);
  return wanted;
}

const names = {};
let css = readFileSync(`${out}/app.css`, "utf-8");
for (const file of readdirSync(`${out}/fonts`).sort()) {
  names[`fonts/${file}`] = hashed(`fonts/${file}`);
  css = css.replaceAll(`fonts/${file}`, names[`fonts/${file}`]);
}
writeFileSync(`${out}/app.css`, css);
for (const file of ["app.css", "app.js", "walker.js"]) names[file] = hashed(file);
writeFileSync(`${out}/manifest.json`, `${JSON.stringify(names, null, 2)}\n`);
