"""The picture of a page in a browser, for the README: of an exercise of the demo lesson, at a stop of its route."""

from __future__ import annotations

import importlib
import sys
import tempfile
from pathlib import Path

from eelgrass.export.pages.exercise_page import exercise_page
from eelgrass.lessons.demo_lesson import demo_lesson

_ROOT = Path(__file__).parents[1]
sys.path.append(str(_ROOT / "tests"))
browser = importlib.import_module("support.browser").browser


def main() -> None:
    """Writes `docs/screenshots/page.png`."""
    with tempfile.TemporaryDirectory() as made:
        file = Path(made) / "page.html"
        file.write_text(exercise_page(demo_lesson().exercise("shoot_count")))
        with browser(Path(made) / "profile") as driver:
            driver.get(file.as_uri())
            driver.find_element("css selector", '[data-move="last"]').click()
            driver.save_screenshot(str(_ROOT / "docs" / "screenshots" / "page.png"))


if __name__ == "__main__":
    main()
