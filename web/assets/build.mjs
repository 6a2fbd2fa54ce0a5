// Builds web/static/dist: the stylesheet from web/assets/app.css and the
// templates, and copies of the third-party files that ship with the program.
// Run with "npm run build"; CI fails when the committed files are stale.
import { copyFileSync, mkdirSync, readFileSync, readdirSync, rmSync, writeFileSync } from "node:fs";
import { spawnSync } from "node:child_process";

const dist = "web/static/dist";
mkdirSync(dist, { recursive: true });
for (const old of readdirSync(dist)) rmSync(`${dist}/${old}`, { recursive: true });

const css = spawnSync(
  "node",
  ["node_modules/@tailwindcss/cli/dist/index.mjs", "-i", "web/assets/app.css", "-o", `${dist}/app.css`, "--minify"],
  { stdio: ["ignore", "inherit", "pipe"], encoding: "utf8" },
);
if (css.status !== 0) {
  process.stderr.write(css.stderr);
  process.exit(1);
}

copyFileSync("node_modules/@fontsource/young-serif/files/young-serif-latin-400-normal.woff2", `${dist}/young-serif.woff2`);
copyFileSync(
  "node_modules/@fontsource-variable/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-wght-normal.woff2",
  `${dist}/atkinson-next.woff2`,
);
// One bundle in a fixed order: an extension must be there before htmx looks at the
// page, which it does as soon as it can. Maps of minified files do not ship, so their
// pointers go too.
const scripts = ["htmx.min.js", "ext/hx-sse.min.js"].map((name) =>
  readFileSync(`node_modules/htmx.org/dist/${name}`, "utf8").replace(/\n?\/\/# sourceMappingURL=.*\s*$/, ""),
);
writeFileSync(`${dist}/htmx.min.js`, scripts.join(";\n") + "\n");
for (const [pkg, file] of [
  ["htmx.org", "htmx"],
  ["@fontsource/young-serif", "young-serif"],
  ["@fontsource-variable/atkinson-hyperlegible-next", "atkinson-next"],
]) {
  copyFileSync(`node_modules/${pkg}/LICENSE`, `${dist}/${file}.LICENSE.txt`);
}

// What only the browser tests need.
mkdirSync("e2e/dist", { recursive: true });
copyFileSync("node_modules/axe-core/axe.min.js", "e2e/dist/axe.min.js");
copyFileSync("node_modules/axe-core/LICENSE", "e2e/dist/axe.LICENSE.txt");
