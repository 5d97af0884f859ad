"""A page in a real browser, held against the recording that it was made of."""

from __future__ import annotations

import random
from dataclasses import dataclass
from typing import Any

from selenium.webdriver import Chrome, Keys
from selenium.webdriver.common.action_chains import ActionChains

from eelgrass.reading.moves import MOVES
from eelgrass.reading.recording import Recording
from eelgrass.reading.stack.rows import ErrorRow, ReturnRow, Row, ValueRow
from eelgrass.reading.state.output import number_past
from eelgrass.trace.model import Texts

#: What stands on the page: read from what a person sees, not from its data.
_READ = """
const text = (its) => [...its.childNodes].map((node) => node.textContent).join("");
const table = document.querySelector("table.text:not([hidden])");
const rows = [...table.tBodies[0].rows].map((row) => ({
  line: Number(row.dataset.line), here: row.classList.contains("here"), visits: row.cells[1].textContent,
  code: row.cells[2].textContent, note: row.cells[3].textContent, faded: row.classList.contains("faded"),
}));
const layers = [...document.querySelectorAll("#depths .layer")].map((layer) => ({
  title: layer.querySelector("h3").firstChild.textContent, detail: layer.querySelector(".detail").textContent,
  rows: [...layer.querySelectorAll("tr")].filter((row) => row.cells.length === 3).map((row) => ({
    name: row.cells[0].textContent, type: row.cells[1].textContent,
    value: [...row.cells[2].querySelectorAll(".held, .cell")].map((its) => its.firstChild?.textContent ?? ""),
    was: row.cells[2].querySelector(".was")?.textContent ?? "", changed: row.classList.contains("changed"),
    indented: row.cells[0].className !== "indent0",
  })),
}));
const output = [...document.querySelectorAll("#output > span:not([hidden])")].map((its) => its.textContent).join("");
return { rows, layers, output, moment: Number(document.getElementById("reach").value) };
"""
_KEYS = {
    "next_line": [Keys.ARROW_RIGHT],
    "previous_line": [Keys.ARROW_LEFT],
    "into": [Keys.ARROW_DOWN],
    "out": [Keys.ARROW_UP],
    "first": [Keys.HOME],
    "last": [Keys.END],
    "next_any": [Keys.SHIFT, Keys.ARROW_RIGHT],
    "previous_any": [Keys.SHIFT, Keys.ARROW_LEFT],
    "call_of": [Keys.SHIFT, Keys.ARROW_UP],
    "next_pass": [Keys.CONTROL, Keys.ARROW_RIGHT],
    "previous_pass": [Keys.CONTROL, Keys.ARROW_LEFT],
}


@dataclass
class PageJudge:
    """A page on view, and the recording that it is of."""

    driver: Chrome
    recording: Recording
    step: int = -1

    def walk(self, moves: int, chance: random.Random) -> None:
        """Goes about by keys, and looks at what is there each time."""
        self.step = self.recording.stepping.first()
        self.look()
        for _ in range(moves):
            move = chance.choice(list(_KEYS))
            self.step = self._led_by(move)
            press(self.driver, *_KEYS[move])
            self.look(move)

    def _led_by(self, move: str) -> int:
        """The step that a move leads to; out of a page that was cut, none does."""
        moments = self.driver.execute_script('return JSON.parse(document.getElementById("data").textContent)[0].steps')
        led = moments[-1] if move == "last" else MOVES[move](self.recording, self.step)
        return led if 0 <= led <= moments[-1] else self.step

    def look(self, move: str = "") -> None:
        """Holds what stands on the page against the recording."""
        told, recording, step = self.driver.execute_script(_READ), self.recording, self.step
        stops = recording.stepping.stops.tolist()
        assert stops[told["moment"]] == step, (move, stops[told["moment"]], step)
        module = recording.module_at(step)
        counts, unreached = recording.visits.counts(module, step), recording.visits.unreached(module, step)
        source = recording.trace.program.modules[module].source.removesuffix("\n").split("\n")
        assert len(told["rows"]) == len(source)
        for row, text in zip(told["rows"], source, strict=True):
            line = row["line"]
            note = recording.line_notes.of_line(module, line, step)
            count = counts.get(line)
            wanted = f"{count.so_far}/{count.in_all}" if count and count.in_all else ""
            assert row["code"].replace("\u200b", "") == text, (step, line)
            assert row["note"] == (note.text if note is not None else ""), (move, step, line)
            assert row["visits"] == wanted, (move, step, line)
            assert row["faded"] == (line in unreached), (move, step, line)
            assert row["here"] == (line == recording.trace.line_of(step)), (move, step, line)
        past = number_past(recording.trace, recording.output, step)
        pieces = [its.text for its in recording.output[:past] if its.channel != Texts.PICTURE]
        assert told["output"] == "".join(pieces), (move, step)
        layers = recording.stack_rows.at(step)
        assert [(its["title"], its["detail"]) for its in told["layers"]] == [(its.title, its.detail) for its in layers]
        for shown, layer in zip(told["layers"], layers, strict=True):
            rows = [its for its in shown["rows"] if not its["indented"]]
            assert [_seen(its) for its in rows] == [
                seen for row in layer.rows if (seen := _expected(row)) is not None
            ], (move, step)


def _seen(row: dict[str, Any]) -> tuple[str, str, tuple[str, ...], str, bool]:
    return row["name"], row["type"], tuple(row["value"]), row["was"], row["changed"]


def _expected(row: Row) -> tuple[str, str, tuple[str, ...], str, bool] | None:
    if isinstance(row, ValueRow):
        held = tuple(its.text for its in row.cells) or (row.text,)
        return row.name, row.type_word, held, row.was or "", row.changed
    if isinstance(row, ReturnRow):
        return row.name, row.type_word, (row.text,), "", False
    if isinstance(row, ErrorRow):
        return row.name, "", (row.text,), "", False
    return None if not hasattr(row, "is_deleted") else (row.name, "", ("",), "", False)


def press(driver: Chrome, *keys: str) -> None:
    """Presses a key, with others held."""
    chain = ActionChains(driver, duration=0)
    for key in keys[:-1]:
        chain.key_down(key)
    chain.send_keys(keys[-1])
    for key in keys[:-1]:
        chain.key_up(key)
    chain.perform()
