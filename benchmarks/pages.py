"""Pages of the demo lesson in a browser: how large, how soon painted, how long a move takes; whether the Nu checker
finds their HTML valid, and axe whatever keeps people out. Both come from npm, by name, into build/."""

from __future__ import annotations

import importlib
import json
import subprocess
import sys
import tempfile
from pathlib import Path
from statistics import median

from selenium.webdriver import Chrome

from benchmarks.measure import machine
from eelgrass.export.pages.exercise_page import exercise_page
from eelgrass.export.pages.page import ToShow, page
from eelgrass.export.pages.runs import Chosen
from eelgrass.lessons.demo_lesson import demo_lesson
from eelgrass.reading.recording import Recording

sys.path.insert(0, str(Path(__file__).parents[1] / "tests"))
first_year = importlib.import_module("support.first_year")
browser = importlib.import_module("support.browser").browser
run_of_text = importlib.import_module("support.runs").run_of_text

_TOOLS = Path("build/npm")
#: Each key of a hundred moves, with what it takes until all of it is laid out.
_MOVES = """
const taken = [], stood = new Set();
const keys = ["ArrowDown", "ArrowRight", "ArrowDown", "Home", "End", "ArrowLeft", "ArrowUp", "ArrowLeft"];
for (const its of document.querySelectorAll("#asks[aria-pressed=true]:not([hidden])")) its.click();
for (let place = 0; place < 200; place += 1) {
  const began = performance.now();
  document.body.dispatchEvent(new KeyboardEvent("keydown", { key: keys[place % keys.length], bubbles: true }));
  document.body.getBoundingClientRect();
  taken.push(performance.now() - began);
  stood.add(document.getElementById("reach").value);
}
return [taken, stood.size];
"""
_PAINTED = """
const tell = arguments[0];
new PerformanceObserver((list) => {
  for (const its of list.getEntriesByName("first-contentful-paint")) tell(its.startTime);
}).observe({ type: "paint", buffered: true });
"""


def main() -> None:
    print(machine())
    subprocess.run(["npm", "install", "--silent", "--prefix", str(_TOOLS), "vnu-jar", "axe-core"], check=True)
    with tempfile.TemporaryDirectory() as made:
        folder = Path(made)
        files = _files(folder)
        checked = _not_valid(files)
        with browser(folder / "profile") as driver:
            for file in files:
                driver.get(file.as_uri())
                driver.execute_script("document.querySelector('[data-move=last]').click()")
                painted = driver.execute_async_script(_PAINTED)
                axe = _axe(driver)
                driver.find_element("id", "look").click()
                axe += _axe(driver)
                taken, places = driver.execute_script(_MOVES)
                taken.sort()
                slow = taken[int(len(taken) * 0.95)]
                print(
                    f"{file.stem}: {file.stat().st_size / 1000:.0f} KB, first paint {painted:.0f} ms, a move (to"
                    f" {places} places) {median(taken):.1f} ms, 95th of 100 {slow:.1f}, worst {taken[-1]:.1f};"
                    f" not valid: {len(checked.get(file.name, []))}, axe: {axe or 'nothing'}"
                )
                for its in checked.get(file.name, []):
                    print(f"    {its}")


def _files(folder: Path) -> list[Path]:
    found = []
    for exercise in demo_lesson().exercises:
        found.append(folder / f"{exercise.folder.name}.html")
        found[-1].write_text(exercise_page(exercise))
    for seed in (9113, 9121):
        its = first_year.program(seed)
        recording = Recording(run_of_text(its.text, its.typed.decode().splitlines(), folder))
        found.append(folder / f"first_year_{seed}_{len(recording.trace.steps)}_steps.html")
        found[-1].write_text(page(found[-1].stem, [ToShow(recording, Chosen())]))
    return found


def _not_valid(files: list[Path]) -> dict[str, list[str]]:
    jar = next(_TOOLS.rglob("vnu.jar"))
    told = subprocess.run(
        ["java", "-jar", str(jar), "--format", "json", *map(str, files)], capture_output=True, text=True, check=False
    )
    found: dict[str, list[str]] = {}
    for its in json.loads(told.stderr)["messages"]:
        if its["type"] != "info":  # it does not work out the hashes by which the script and the style are let in
            found.setdefault(its["url"].rpartition("/")[2], []).append(f"{its['type']}: {its['message']}")
    return found


def _axe(driver: Chrome) -> str:
    script = next(_TOOLS.rglob("axe.min.js")).read_text()
    driver.execute_script(script)
    told = driver.execute_async_script(
        "const tell = arguments[0]; axe.run(document).then(tell, (error) => tell(String(error)));"
    )
    return "; ".join(f"{its['id']} ({len(its['nodes'])}: {its['nodes'][0]['html'][:90]})" for its in told["violations"])


if __name__ == "__main__":
    main()
