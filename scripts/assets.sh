#!/bin/sh
# Builds what pages need from Node's packages into internal/web/assets/files: the style sheet, Alpine,
# the font, icons; or into the folder given. The results are in the repository, so that starting needs Go alone.
set -eu
cd "$(dirname "$0")/.."
to=${1:-internal/web/assets/files}
mkdir -p "$to/fonts" "$to/icons"
npx --no-install @tailwindcss/cli -i styles/app.css -o "$to/app.css" >/dev/null 2>&1
cp node_modules/@alpinejs/csp/dist/cdn.min.js "$to/alpine.js"
cp node_modules/@fontsource-variable/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-wght-normal.woff2 "$to/fonts/atkinson.woff2"
cp node_modules/@fontsource-variable/atkinson-hyperlegible-next/LICENSE "$to/fonts/LICENSE"
for icon in sun paw-print sliders-horizontal plus play pencil undo-2 arrow-up arrow-down split merge grip-vertical library download trash-2 calendar-days printer wand-sparkles; do
  grep -v '^<!--' "node_modules/lucide-static/icons/$icon.svg" >"$to/icons/$icon.svg"
done
cp node_modules/lucide-static/LICENSE "$to/icons/LICENSE"
