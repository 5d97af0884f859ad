"""What came of cases, for people and for other tools: text, JSON, JUnit XML."""

from __future__ import annotations

import json
from collections.abc import Iterator, Sequence
from xml.etree.ElementTree import Element, SubElement, tostring

from eelgrass.lessons.judging.judging import Result

#: What XML cannot hold stands as this.
_UNWRITABLE = "\N{REPLACEMENT CHARACTER}"


def text_lines(name: str, results: Sequence[Result]) -> Iterator[str]:
    """Lines for one program."""
    passed = sum(result.is_passed for result in results)
    yield f"{name}: {passed} of {len(results)} passed\n"
    for result in results:
        if not result.is_passed or result.remark:
            told = " ".join(filter(None, (result.why, result.first_wrong, result.remark)))
            yield f"  {result.case}: {result.verdict}. {told}".rstrip() + "\n"


def as_json(name: str, results: Sequence[Result]) -> str:
    """One line of JSON for one program."""
    rows = [
        {
            **{"case": its.case, "verdict": its.verdict, "why": its.why, "output": its.output, "seconds": its.seconds},
            **({"first_wrong": its.first_wrong} if its.first_wrong else {}),
            **({"remark": its.remark} if its.remark else {}),
        }
        for its in results
    ]
    return json.dumps({"program": name, "passed": sum(its.is_passed for its in results), "cases": rows}) + "\n"


def junit(title: str, programs: Sequence[tuple[str, Sequence[Result]]]) -> bytes:
    """All programs as one JUnit XML document: a suite each, with its cases."""
    root = Element("testsuites", name=_writable(title))
    for name, results in programs:
        failures = sum(its.verdict == "failed" for its in results)
        errors = sum(its.verdict in ("run away", "cannot run") for its in results)
        counts = {"tests": str(len(results)), "failures": str(failures), "errors": str(errors)}
        suite = SubElement(root, "testsuite", {"name": _writable(name), **counts})
        for its in results:
            case = SubElement(
                suite, "testcase", name=_writable(its.case), classname=_writable(name), time=f"{its.seconds:.3f}"
            )
            if not its.is_passed:
                kind = "failure" if its.verdict == "failed" else "error"
                SubElement(case, kind, message=_writable(f"{its.why} {its.first_wrong}".strip()), type=its.verdict)
            SubElement(case, "system-out").text = _writable(its.output)
    data: bytes = tostring(root, encoding="utf-8", xml_declaration=True)
    return data


def _writable(text: str) -> str:
    def can_be(character: str) -> bool:
        code = ord(character)
        return character in "\t\n" or 0x20 <= code < 0xD800 or 0xE000 <= code < 0xFFFE or code >= 0x10000

    return "".join(character if can_be(character) else _UNWRITABLE for character in text)
