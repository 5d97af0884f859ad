"""A second reader of recordings, written from `docs/formats/recording.md` alone: it rebuilds the state at a step.

It shares no code with Eelgrass. If it cannot read what Eelgrass writes, the page is wrong.
"""

import io
import json
import struct
import zipfile

import numpy as np

DIFFERENCES = {
    *("frames.call_step", "frames.first", "frames.last", "resumes.step", "resumes.call_step", "results.step"),
    *("results.frame", "slots.owner", "slots.write_slot", "slots.write_step", "objects.first", "texts.step"),
    "raises.step",
}
NAME, ELEMENT, FIELD, SIZE, CELL = range(5)


class SecondReader:
    """One recording's file."""

    def __init__(self, path):
        with zipfile.ZipFile(path) as archive:
            self.manifest = json.loads(archive.read("manifest.json"))
            self.program = json.loads(archive.read("program.json"))
            self.value_texts = [json.loads(line) for line in archive.read("values.jsonl").splitlines()]
            self.columns = {}
            for name in archive.namelist():
                if name.endswith(".npy"):
                    column = np.load(io.BytesIO(archive.read(name)), allow_pickle=False)
                    name = name.removesuffix(".npy")
                    self.columns[name] = np.cumsum(column.astype(np.int64)) if name in DIFFERENCES else column

    def value(self, number, step):
        """A value as Python would print it."""
        kind, payload = int(self.columns["values.kinds"][number]), int(self.columns["values.payloads"][number])
        if kind == 5:
            return self.object(payload, step)
        if kind == 6:
            return self.tagged(json.loads(self.value_texts[payload]), step)
        plain = [None, bool(payload), payload, struct.unpack("<d", struct.pack("<q", payload))[0]]
        return repr(self.value_texts[payload] if kind == 4 else plain[kind])

    def tagged(self, told, step):
        """A value of `docs/formats/values.md`."""
        if not isinstance(told, list):
            return repr(told)
        if isinstance(told[0], int):
            return self.object(told[0], step)
        if told[0] == "tuple":
            parts = [self.tagged(part, step) for part in told[1:]]
            return "(" + ", ".join(parts) + (",)" if len(parts) == 1 else ")")
        if told[0] == "int":
            return str(int(told[1], 16))
        if told[0] == "bytes":
            return repr(bytes.fromhex(told[1]))
        return "Ellipsis" if told[0] == "ellipsis" else repr(complex(*told[1:]))

    def held(self, parts, owner, step):
        """(key, value, place of the latest write since which it has held something) of an owner's slots at a step."""
        its = self.columns
        found = []
        for slot in np.flatnonzero(np.isin(its["slots.part"], parts) & (its["slots.owner"] == owner)).tolist():
            writes = np.flatnonzero((its["slots.write_slot"] == slot) & (its["slots.write_step"] < step))
            values = its["slots.write_value"][writes].tolist()
            if values and values[-1] != -1:
                since = max((place for place, value in enumerate(values) if value == -1), default=-1) + 1
                found.append(
                    (int(its["slots.key"][slot]), values[-1], int(its["slots.write_step"][writes[since]]), slot)
                )
        return sorted(found, key=lambda row: (row[2], row[3]))

    def object(self, number, step):
        """An object as Python would print it, or `<Typename #number>`."""
        shape = self.program["shapes"][int(self.columns["objects.shape"][number])]
        type_ = self.program["types"][int(self.columns["objects.type"][number])]
        if type_ not in ("list", "dict", "set", "tuple", "frozenset") or shape == "instance":
            return f"<{type_} #{number}>"
        rows = self.held([ELEMENT, CELL], number, step)
        if shape != "dict":
            rows.sort(key=lambda row: int(self.columns["values.payloads"][row[0]]))
            parts = [self.value(value, step) for _, value, _, _ in rows]
        else:
            parts = [f"{self.value(key, step)}: {self.value(value, step)}" for key, value, _, _ in rows]
        body = ", ".join(parts)
        if type_ == "tuple":
            return f"({body},)" if len(parts) == 1 else f"({body})"
        return f"[{body}]" if type_ == "list" else f"{{{body}}}" if parts or type_ == "dict" else "set()"

    def variables(self, step):
        """The names of the step's frame and what they hold just before the step."""
        frame = int(self.columns["steps.frame"][step])
        names = {self.value(key, step)[1:-1]: value for key, value, _, _ in self.held([NAME], frame, step)}
        return {name: self.value(value, step) for name, value in names.items() if not name.startswith("__")}
