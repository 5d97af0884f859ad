"""Pages, in a real browser without a network, held against their recordings."""

from __future__ import annotations

import json
import random
import re
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import html5lib
import pytest
from click.testing import CliRunner
from conftest import Record
from hypothesis import given, settings
from hypothesis import strategies as st
from selenium.webdriver import Chrome, Keys
from selenium.webdriver.common.by import By
from support import first_year
from support.browser import CHROMIUM, browser
from support.page_judge import PageJudge, press
from support.runs import run_of_text

from eelgrass.cli.main import main
from eelgrass.export.pages.page import ToShow, page
from eelgrass.export.pages.runs import MOST_MOMENTS, Chosen
from eelgrass.export.pages.texts import code_lines, markdown
from eelgrass.lessons.answering.predictions import Prediction, judged
from eelgrass.lessons.demo_lesson import demo_lesson
from eelgrass.reading.recording import Recording
from eelgrass.trace.files import recording_file

pytestmark = pytest.mark.skipif(CHROMIUM is None, reason="There is no browser here.")

#: What a program could write to become a part of the page.
_HOSTILE = """\
class Gull:
    def __init__(self, name):
        self.name = name
birds = {"</script><script>document.title = 'taken'</script>": Gull("<img src=x onerror=document.title='taken'>")}
for name in birds:
    print(name, birds[name].name, "<!-- \\u2028 ${title} $title")
"""
_LONG = "total = 0\nfor shoots in range(4000):\n    total += shoots\n"


@pytest.fixture(scope="module")
def driver(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Chrome]:
    with browser(tmp_path_factory.mktemp("profile")) as made:
        yield made


def _open(driver: Chrome, html: str, folder: Path) -> None:
    file = folder / "page.html"
    file.write_text(html, encoding="utf-8")
    driver.get_log("performance")
    driver.get(file.as_uri())


def _asked_for(driver: Chrome) -> set[str]:
    """What the browser went for since the last page was opened."""
    told = (json.loads(its["message"])["message"] for its in driver.get_log("performance"))
    return {its["params"]["request"]["url"] for its in told if its["method"] == "Network.requestWillBeSent"}


@pytest.mark.parametrize("seed", [9103, 9125])
def test_what_a_page_shows_is_what_the_recording_says(driver: Chrome, seed: int, tmp_path: Path) -> None:
    program = first_year.program(seed)
    recording = Recording(run_of_text(program.text, program.typed.decode().splitlines(), tmp_path))
    _open(driver, page("Gulls", [ToShow(recording, Chosen())]), tmp_path)
    PageJudge(driver, recording).walk(15, random.Random(seed))
    assert driver.get_log("browser") == []


def test_nothing_of_a_program_becomes_a_part_of_the_page(driver: Chrome, record: Record, tmp_path: Path) -> None:
    recording = record(_HOSTILE)
    html = page("Gulls <b>& terns", [ToShow(recording, Chosen(stops={3: [(1, markdown("<b>x</b> [a](b:c) `d`"))]}))])
    html5lib.HTMLParser(strict=True).parse(html)
    _open(driver, html, tmp_path)
    PageJudge(driver, recording).walk(6, random.Random(1))
    assert driver.title == "Gulls <b>& terns"
    assert driver.find_elements(By.CSS_SELECTOR, "img, b:not([aria-hidden]), a, iframe, link") == []
    assert _asked_for(driver) == {(tmp_path / "page.html").as_uri()}
    assert driver.get_log("browser") == [], "nothing was refused: nothing was tried"


@pytest.mark.parametrize("name", [its.folder.name for its in demo_lesson().exercises])
def test_each_demo_has_a_page(driver: Chrome, name: str, tmp_path: Path) -> None:
    exercise, out = demo_lesson().exercise(name), tmp_path / "page.html"
    told = CliRunner().invoke(main, ["page", str(exercise.folder), "-o", str(out)], catch_exceptions=False)
    assert told.exit_code == 0
    html = out.read_text()
    assert len(html.encode()) < 600_000
    html5lib.HTMLParser(strict=True).parse(html)
    assert exercise.model is None or not re.search(re.escape(exercise.sealed.reason), html), "what is sealed stays so"
    _open(driver, html, tmp_path)
    assert driver.find_element(By.TAG_NAME, "h1").text == exercise.title
    runs = json.loads(driver.find_element(By.ID, "data").get_attribute("textContent"))
    stops, questions = ([its for run in runs for its in run[part]] for part in ("stops", "questions"))
    assert {number for _, number, _ in stops} == set(range(1, len(exercise.stops) + 1)), "the whole route"
    assert bool(questions) == bool(exercise.points)
    press(driver, Keys.END)
    assert driver.get_log("browser") == []
    assert _asked_for(driver) == {(tmp_path / "page.html").as_uri()}


def test_what_is_to_be_said_first_is_not_seen_before(driver: Chrome, tmp_path: Path) -> None:
    out = tmp_path / "page.html"
    CliRunner().invoke(main, ["page", str(demo_lesson().exercise("shoot_count").folder), "-o", str(out)])
    driver.get(out.as_uri())
    press(driver, Keys.END)
    body = driver.find_element(By.TAG_NAME, "body")
    assert "How many passes" in driver.find_element(By.ID, "question").text
    assert "31" not in body.text, "what comes of it"
    for key in (Keys.END, Keys.ARROW_RIGHT, Keys.ARROW_DOWN, Keys.PAGE_DOWN):
        press(driver, key)
        assert driver.find_element(By.CSS_SELECTOR, "tr.here button").text == "7"
    driver.find_element(By.ID, "answer").send_keys("4", Keys.ENTER)
    assert driver.find_element(By.ID, "verdict").text == "It makes 3 passes, from counts = [12, 7, 9, 15]."
    press(driver, Keys.END)
    asked = 1
    while driver.find_element(By.ID, "question").is_displayed():
        asked += 1
        driver.find_element(By.ID, "show").click()
        press(driver, Keys.END)
    assert asked == 3, "the three questions of the exercise that come in this case"
    assert driver.find_element(By.CSS_SELECTOR, "tr.here button").text == "18"


def test_all_of_it_can_be_reached_by_keys(driver: Chrome, record: Record, tmp_path: Path) -> None:
    recording = record("class Bed:\n    pass\nbed = Bed()\nbed.beds = [bed]\nprint('x' * 9)\n")
    _open(driver, page("Beds", [ToShow(recording, Chosen())]), tmp_path)
    press(driver, Keys.END)
    wanted = set(driver.find_elements(By.CSS_SELECTOR, "button:enabled, input, select, [tabindex]"))
    wanted = {its for its in wanted if its.is_displayed()}
    reached = set()
    for _ in range(len(wanted) + 5):
        press(driver, Keys.TAB)
        reached.add(driver.switch_to.active_element)
    assert wanted <= reached
    opener = driver.find_element(By.CLASS_NAME, "opener")
    opener.send_keys(Keys.ENTER)
    assert driver.switch_to.active_element.get_attribute("aria-expanded") == "true"
    assert ".beds" in driver.find_element(By.ID, "depths").text


_VALUES = st.recursive(
    st.one_of(
        st.none(),
        st.booleans(),
        st.integers(),
        st.floats(-1e6, 1e6),
        st.binary(max_size=2),
        st.text("ab'\"\\ \n,:", max_size=5),
    ),
    lambda its: st.one_of(
        st.lists(its, max_size=3), st.tuples(its, its), st.dictionaries(st.text("ab", max_size=2), its)
    ),
    max_leaves=6,
)


def _nearly(value: Any, share: float) -> Any:
    """The same with all floats a little larger."""
    if isinstance(value, float):
        return value * (1 + share)
    if isinstance(value, (list, tuple)):
        return type(value)(_nearly(its, share) for its in value)
    return {key: _nearly(its, share) for key, its in value.items()} if isinstance(value, dict) else value


@pytest.fixture(scope="module")
def page_on_view(driver: Chrome, tmp_path_factory: pytest.TempPathFactory) -> Chrome:
    folder = tmp_path_factory.mktemp("beds")
    recording = Recording(run_of_text("bed = 1\n", (), folder))
    _open(driver, page("Beds", [ToShow(recording, Chosen())]), folder)
    return driver


@given(_VALUES, _VALUES, st.sampled_from(("same", "other", "spaced", "nearly", "roughly")))
@settings(max_examples=150, deadline=None)
def test_answers_are_judged_as_in_the_window(page_on_view: Chrome, value: object, other: object, how: str) -> None:
    told = {"other": other, "nearly": _nearly(value, 1e-12), "roughly": _nearly(value, 1e-6)}.get(how, value)
    said = repr(told)
    if how == "spaced" and "'" not in said and '"' not in said:
        said = said.replace(", ", " ,  ").replace("[", "[ ")
    prediction = Prediction(0, "value", "", repr(value), "")
    right = page_on_view.execute_script(
        "return answers.judged('value', arguments[0], arguments[1])[0]", repr(value), said
    )
    assert right == judged(prediction, said).is_right, (value, said)


def test_a_part_that_is_too_long_is_cut_and_says_so(driver: Chrome, record: Record, tmp_path: Path) -> None:
    recording = record(_LONG)
    html = page("Shoots", [ToShow(recording, Chosen(first=100))])
    _open(driver, html, tmp_path)
    told = driver.find_element(By.ID, "cut").text
    last = int(recording.stepping.stops[recording.stepping.stops >= 100][MOST_MOMENTS - 1])
    whole = len(recording.trace.steps) - 1
    assert told == (
        f"This page shows a part of the run: steps 100 to {last:,} of {whole:,}. More than that does not go on a page."
    )
    press(driver, Keys.END)
    note = recording.line_notes.of_line(0, 3, last)
    assert note is not None
    assert note.text in driver.find_element(By.ID, "texts").text


def test_lines_of_code_are_those_of_the_program() -> None:
    source = 'def f():\n    """A\n\n  b"""\n\treturn "<&>"  # c\n\n\nx = 1'
    plain = [re.sub(r"<[^>]*>", "", its) for its in code_lines(source)]
    assert plain == [
        its.replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;").replace('"', "&quot;")
        for its in source.split("\n")
    ]


def test_the_command_says_what_it_cannot_do(record: Record, tmp_path: Path) -> None:
    made, out = tmp_path / "gulls.eelrec", tmp_path / "page.html"
    recording_file.save(record("x = 1\ny = 2\n").trace, made)
    for arguments, words in (
        ([str(made), "--from", "99"], "There is nothing to show: the recording has the steps 0 to"),
        ([str(made), "--case", "one"], "--case is for exercises"),
        ([str(demo_lesson().exercise("shoot_count").folder), "--case", "none"], "The exercise has no case “none”."),
    ):
        told = CliRunner().invoke(main, ["page", *arguments, "-o", str(out)])
        assert told.exit_code in (1, 2)
        assert words in told.output
        assert not out.exists()
