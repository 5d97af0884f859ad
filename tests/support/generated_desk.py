"""Generated programs with windows: whatever they do to widgets, they say what comes of it."""

from __future__ import annotations

import random

_WORDS = ("eel", "reef", "low tide", "a", "", "mud 3", "naïve", "x y z")
_COLOURS = ("red", "#2e8b57", "SeaGreen", "gray40", "seaweed", "#12")


def program(seed: int) -> str:
    """A program of some widgets and some dozens of operations, each of which may fail."""
    chance = random.Random(seed)
    lines = [
        "import tkinter as tk",
        "from tkinter import ttk",
        "root = tk.Tk()",
        "text_of, number_of, flag = tk.StringVar(), tk.IntVar(value=2), tk.BooleanVar()",
        "entry, bound = tk.Entry(root), tk.Entry(root, textvariable=text_of)",
        "box, page = tk.Listbox(root), tk.Text(root, width=30, height=5)",
        "sea = tk.Canvas(root, width=200, height=120)",
        "scale = tk.Scale(root, from_=-5, to=20, variable=number_of, orient='horizontal')",
        "check = tk.Checkbutton(root, text='flag', variable=flag, onvalue=True, offvalue=False)",
        "ways = [tk.Radiobutton(root, text=str(n), variable=number_of, value=n) for n in range(3)]",
        "combo = ttk.Combobox(root, values=('reef', 'mud', 'pier'), textvariable=text_of)",
        "label, button = tk.Label(root, textvariable=text_of), tk.Button(root, command=lambda: 'pressed')",
        "parts = [entry, bound, box, page, sea, scale, check, *ways, combo, label, button]",
        "def tell(what, do):",
        "    try:",
        "        print(what, repr(do()))",
        "    except Exception as error:",
        "        print(what, type(error).__name__, error)",
    ]
    manager = chance.choice(("pack()", "grid()"))
    lines += [f"for part in parts:\n    part.{manager}", "root.update()"]
    for number in range(40):
        lines.append(f"tell({number}, lambda: {_operation(chance)})")
    return "\n".join([*lines, "root.destroy()", ""])


def _operation(chance: random.Random) -> str:
    return chance.choice((_of_entry, _of_list, _of_text, _of_canvas, _of_variable, _of_options))(chance)


def _index(chance: random.Random) -> str:
    return chance.choice(("0", "1", "3", "'end'", "9"))


def _of_entry(chance: random.Random) -> str:
    name, word = chance.choice(("entry", "bound", "combo")), chance.choice(_WORDS)
    return chance.choice(
        (
            f"{name}.insert({_index(chance)}, {word!r})",
            f"{name}.delete({_index(chance)}, {_index(chance)})",
            f"{name}.delete({_index(chance)})",
            f"{name}.get()",
            f"{name}.index({_index(chance)})",
            f"({name}.icursor({_index(chance)}), {name}.insert('insert', 'i'), {name}.get())",
            f"combo.current({chance.randint(0, 2)})",
            "combo.current()",
        )
    )


def _of_list(chance: random.Random) -> str:
    first, last = _index(chance), _index(chance)
    return chance.choice(
        (
            f"box.insert({first}, *{chance.sample(_WORDS, 2)!r})",
            f"box.delete({first})",
            f"box.delete({first}, {last})",
            f"box.get({first})",
            f"box.get({first}, {last})",
            f"(box.selection_set({first}), box.curselection())",
            "(box.selection_clear(0, 'end'), box.curselection())",
            f"box.selection_includes({first})",
            "box.size()",
        )
    )


def _of_text(chance: random.Random) -> str:
    places = (
        "'1.0'",
        "'1.2'",
        "'2.0'",
        "'end'",
        "'1.end'",
        "'end-1c'",
        "'3.1'",
        "'1.0 lineend'",
        "'2.0+2c'",
        "'insert'",
    )
    first, last = chance.choice(places), chance.choice(places)
    word = chance.choice(("eel\n", "tide", "one\ntwo\n", "x"))
    return chance.choice(
        (
            f"page.insert({first}, {word!r})",
            f"page.delete({first}, {last})",
            f"page.delete({first})",
            f"page.get({first}, {last})",
            f"page.get({first})",
            f"page.index({first})",
            f"page.compare({first}, '<', {last})",
            "page.search('e', '1.0')",
        )
    )


def _of_canvas(chance: random.Random) -> str:
    a, b, c, d = (chance.randint(-20, 150) for _ in range(4))
    tag = chance.choice(("1", "2", "3", "'all'", "'boat'", "'none'"))
    kind = chance.choice(("line", "rectangle", "oval", "polygon", "arc"))
    return chance.choice(
        (
            f"sea.create_{kind}({a}, {b}, {c}, {d}, tags='boat')",
            f"sea.create_{kind}({a}, {b}, {c}, {d}, fill={chance.choice(_COLOURS)!r})",
            f"sea.create_text({a}, {b}, text='pier', tags=('pier', 'boat'))",
            f"sea.move({tag}, {a}, {b})",
            f"sea.coords({tag})",
            f"sea.coords({tag}, {a}, {b}, {c}, {d})" if kind != "polygon" else f"sea.type({tag})",
            f"sea.delete({tag})",
            f"sea.find_withtag({tag})",
            "sea.find_all()",
            f"sea.gettags({tag})",
            f"sea.itemcget({tag}, 'fill')",
            f"sea.itemconfig({tag}, fill={chance.choice(_COLOURS)!r})",
            f"sea.tag_raise({tag})",
            f"sea.tag_lower({tag})",
            f"sea.addtag_withtag('old', {tag})",
            f"sea.dtag({tag}, 'boat')",
        )
    )


def _of_variable(chance: random.Random) -> str:
    return chance.choice(
        (
            f"text_of.set({chance.choice(_WORDS)!r})",
            "text_of.get()",
            f"number_of.set({chance.randint(-9, 30)})",
            "number_of.get()",
            f"scale.set({chance.randint(-9, 30)})",
            "scale.get()",
            "check.invoke()",
            "(check.toggle(), flag.get())",
            "(check.select(), flag.get())",
            "flag.get()",
            f"(ways[{chance.randint(0, 2)}].invoke(), number_of.get())",
            f"(ways[{chance.randint(0, 2)}].select(), number_of.get())",
            "button.invoke()",
        )
    )


def _of_options(chance: random.Random) -> str:
    part = chance.choice(("entry", "box", "page", "sea", "scale", "check", "label", "button"))
    colour = chance.choice(_COLOURS)
    return chance.choice(
        (
            f"{part}.config(bg={colour!r})",
            f"{part}['bg']",
            f"{part}.config(width={chance.randint(1, 30)})",
            f"{part}.config(state={chance.choice(('disabled', 'normal', 'active', 'asleep'))!r})",
            f"{part}['state']",
            "label['text']",
            f"label.config(text={chance.choice(_WORDS)!r})",
            f"{part}.config(relief={chance.choice(('raised', 'sunken', 'round'))!r})",
            f"{part}.config(colour='red')",
            f"{part}.winfo_class()",
            f"{part}.winfo_exists()",
            f"[str(its) for its in root.{chance.choice(('pack', 'grid'))}_slaves()][:3]",
        )
    )
