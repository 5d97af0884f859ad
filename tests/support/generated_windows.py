"""Generated programs with windows: where their frames lie, in pixels, and which of their functions hear of what."""

from __future__ import annotations

import random

from support import generated_desk


def layout(seed: int) -> str:
    """A program of frames in frames, laid out by all three managers, that says where each lies."""
    chance = random.Random(seed)
    lines = ["import tkinter as tk", "root = tk.Tk()"]
    if chance.random() < 0.4:
        lines.append(f"root.geometry('{chance.randint(150, 400)}x{chance.randint(100, 300)}')")
    names, count = ["root"], 0
    for parent in names:  # which grows meanwhile
        if count > 16:
            break
        manager = chance.choice(("pack", "grid", "place"))
        for _ in range(chance.randint(0 if count else 2, 4)):
            name, count = f"f{count}", count + 1
            border = f", bd={chance.randint(1, 4)}" if chance.random() < 0.2 else ""
            size = f"width={chance.randint(5, 90)}, height={chance.randint(5, 60)}"
            lines += [f"{name} = tk.Frame({parent}, {size}{border})", f"{name}.{manager}({_options(chance, manager)})"]
            names.append(name)
        if manager == "grid" and chance.random() < 0.6:
            lines.append(f"{parent}.{chance.choice(('row', 'column'))}configure({_track(chance)})")
        if parent != "root" and chance.random() < 0.15:
            lines.append(f"{parent}.{'grid' if manager == 'grid' else 'pack'}_propagate(False)")
    lines.append("root.update()")
    if chance.random() < 0.3:
        lines += [f"{chance.choice(names[1:])}.{chance.choice(('pack_forget()', 'config(width=33, height=44)'))}"]
        lines.append("root.update()")
    told = "its.winfo_x(), its.winfo_y(), its.winfo_width(), its.winfo_height(), its.winfo_manager()"
    lines.append(f"for name, its in [{', '.join(f'({name!r}, {name})' for name in names)}]:\n    print(name, {told})")
    return "\n".join([*lines, "root.destroy()", ""])


def _track(chance: random.Random) -> str:
    return f"{chance.randint(0, 2)}, weight={chance.randint(0, 3)}, minsize={chance.choice((0, 0, 25))}"


def _options(chance: random.Random, manager: str) -> str:
    given = []
    pads = [f"pad{axis}={chance.choice((0, 3, (2, 7)))}" for axis in "xy" if chance.random() < 0.3]
    pads += [f"ipad{axis}={chance.randint(0, 6)}" for axis in "xy" if chance.random() < 0.15]
    anchor = chance.choice(("n", "ne", "e", "se", "s", "sw", "w", "nw", "center"))
    if manager == "pack":
        given += [f"side={chance.choice(('top', 'left', 'right', 'bottom'))!r}"]
        given += [f"fill={chance.choice(('x', 'y', 'both'))!r}"] if chance.random() < 0.4 else []
        given += ["expand=True"] if chance.random() < 0.3 else []
        given += [f"anchor={anchor!r}"] if chance.random() < 0.3 else []
    elif manager == "grid":
        given += [f"row={chance.randint(0, 3)}", f"column={chance.randint(0, 3)}"]
        given += [f"rowspan={chance.randint(1, 3)}"] if chance.random() < 0.2 else []
        given += [f"columnspan={chance.randint(1, 3)}"] if chance.random() < 0.2 else []
        given += (
            [f"sticky={''.join(its for its in 'nesw' if chance.random() < 0.5)!r}"] if chance.random() < 0.5 else []
        )
    else:
        given += [f"x={chance.randint(0, 80)}", f"y={chance.randint(0, 60)}"]
        given += [f"relx={chance.choice((0.25, 0.5, 1))}"] if chance.random() < 0.3 else []
        given += [f"relwidth={chance.choice((0.5, 1))}"] if chance.random() < 0.3 else []
        given += [f"height={chance.randint(5, 50)}"] if chance.random() < 0.3 else []
        return ", ".join([*given, *([f"anchor={anchor!r}"] if chance.random() < 0.3 else [])])
    return ", ".join([*given, *pads])


_HEARD = (
    *("<Button-1>", "<Button>", "<Double-1>", "<ButtonRelease-1>", "<B1-Motion>", "<Motion>", "<Key>", "<a>", "a"),
    *("<Return>", "<Control-s>", "<Shift-Left>", "<KeyRelease>", "<Enter>", "<Leave>", "<<Catch>>", "<Button-3>"),
    *("<Control-Button-1>", "<Key-Left>", "<KeyPress-b>", "<FocusIn>", "<FocusOut>"),
)
_SENT = (
    *('"<Button-1>", x=5, y=6', '"<ButtonRelease-1>", x=5, y=6', '"<Motion>", x=7, y=8', '"<Enter>"', '"<Leave>"'),
    *('"<Key>", keysym="a"', '"<Key>", keysym="b"', '"<Return>"', '"<Control-s>"', '"<KeyRelease>", keysym="a"'),
    *('"<<Catch>>"', '"<<Nobody>>"', '"<Button-3>", x=1, y=1', '"<Control-Button-1>", x=5, y=6', '"<Key-Left>"'),
    *('"<BackSpace>"', '"<space>"', '"<B1-Motion>", x=9, y=9', '"<Shift-Left>"', '"<Key>", keysym="Delete"'),
)


def events(seed: int) -> str:
    """A program whose functions are bound to widgets, kinds, windows and all, and say when they are called."""
    chance = random.Random(seed)
    lines = [
        "import tkinter as tk",
        "root = tk.Tk()",
        "entry, button = tk.Entry(root), tk.Button(root, text='add', command=lambda: print('pressed'))",
        "sea, box = tk.Canvas(root, width=90, height=60), tk.Listbox(root, height=3)",
        "box.insert('end', 'cod', 'eel')",
        "item = sea.create_rectangle(0, 0, 40, 40, fill='red', tags=('eel', 'catch'))",
        "for its in (entry, button, sea, box):\n    its.pack()",
        "def heard(name, stops):",
        "    def call(event):",
        "        print(name, event.type.name, event.keysym, event.num, repr(event.char), repr(entry.get()))",
        "        return 'break' if stops else None",
        "    return call",
        "root.update()\nroot.focus_force()\nroot.update()",
    ]
    for number in range(chance.randint(4, 12)):
        name = chance.choice(("entry", "button", "sea", "box", "root", "root", "all", "class", "item"))
        sequence, stops = chance.choice(_HEARD), chance.random() < 0.12
        call = f"heard('{number} {name} {sequence}', {stops})"
        more = ", add='+'" if chance.random() < 0.3 else ""
        if name == "all":
            lines.append(f"root.bind_all({sequence!r}, {call}{more})")
        elif name == "class":
            lines.append(f"root.bind_class({chance.choice(('Canvas', 'Frame'))!r}, {sequence!r}, {call}{more})")
        elif name == "item":
            tag = chance.choice(("'eel'", "'all'", "item", "'later'"))
            sequence = chance.choice(("<Button-1>", "<Motion>", "<ButtonRelease-1>", "<Button-3>"))
            lines.append(f"sea.tag_bind({tag}, {sequence!r}, {call}{more})")
        else:
            lines.append(f"{name}.bind({sequence!r}, {call}{more})")
    lines.append("sea.itemconfigure(item, tags=('eel', 'later'))")
    for number in range(12):
        name = chance.choice(("entry", "button", "sea", "root"))
        if chance.random() < 0.3:
            lines += [f"{name}.focus_force()", "root.update()"]
        sent = chance.choice(_SENT)
        focus = (
            f"{name}.focus_force()\nroot.update()\n" if "Key" in sent or "Return" in sent or sent[2:].islower() else ""
        )
        lines += [f"print('sent', {number}, {name!r}, {sent!r})", f"{focus}{name}.event_generate({sent})"]
        lines.append("root.update()")
    lines.append("print(repr(entry.get()), box.curselection())")
    return "\n".join([*lines, "root.destroy()", ""])


def hits(seed: int) -> str:
    """A program that asks a canvas which of its items are where, and moves the mouse over them."""
    chance = random.Random(seed)
    lines = ["import tkinter as tk", "root = tk.Tk()", "sea = tk.Canvas(root, width=200, height=150)", "sea.pack()"]
    for number in range(8):
        kind = chance.choice(("line", "rectangle", "oval", "polygon", "arc"))
        points = [chance.randint(0, 180) for _ in range(2 * {"line": 3, "polygon": 4}.get(kind, 2))]
        fill = chance.choice(("", "fill='teal'")) if kind != "line" else ""
        more = [fill, f"tags=('t{number % 3}', 'u{number % 2}')", f"width={chance.choice((0, 1, 2, 7))}"]
        more += [f"start={chance.randint(0, 360)}", f"extent={chance.randint(20, 300)}"] if kind == "arc" else []
        more += [f"style={chance.choice(('arc', 'chord', 'pieslice'))!r}"] if kind == "arc" else []
        more += ["outline=''"] if kind not in ("line", "polygon") and fill and chance.random() < 0.5 else []
        lines.append(f"sea.create_{kind}({points}, {', '.join(its for its in more if its)})")
    lines += [
        "def seen(event):\n    print('current', sea.find_withtag('current'), sea.gettags('current'))",
        "sea.bind('<Motion>', seen)",
        "sea.tag_bind('t0', '<Enter>', lambda event: print('enter', sea.find_withtag('current')))",
        "sea.tag_bind('t1', '<Leave>', lambda event: print('leave', sea.find_withtag('current')))",
        "root.update()",
    ]
    for _ in range(16):
        x, y = chance.randint(0, 199), chance.randint(0, 149)
        area = f"{x}, {y}, {x + chance.randint(0, 90)}, {y + chance.randint(0, 90)}"
        lines.append(
            chance.choice(
                (
                    f"print('closest', {x}, {y}, sea.find_closest({x}, {y}))",
                    f"print('overlapping', {area}, sea.find_overlapping({area}))",
                    f"print('enclosed', {area}, sea.find_enclosed({area}))",
                    f"print('move', {x}, {y})\nsea.event_generate('<Motion>', x={x}, y={y})\nroot.update()",
                    f"sea.move('t{chance.randint(0, 2)}&&u0', {chance.randint(-9, 9)}, 4)\nroot.update()",
                    f"print(sea.find_withtag('t{chance.randint(0, 2)}||!u1'))",
                )
            )
        )
    return "\n".join([*lines, "root.destroy()", ""])


def tables(seed: int) -> str:
    """A program that does this and that with a tree of rows and columns, and says what comes of it."""
    chance = random.Random(seed)
    lines = [
        "import tkinter as tk",
        "from tkinter import ttk",
        "root = tk.Tk()",
        f"its = ttk.Treeview(root, columns=('kind', 'count'), show={chance.choice(('headings', 'tree headings'))!r})",
        "its.pack()",
        "def told(number, do):",
        "    try:\n        print(number, repr(do()))",
        "    except tk.TclError as error:\n        print(number, 'TclError', error)",
        "    print('  ', its.get_children(), its.selection())",
        "its.bind('<<TreeviewSelect>>', lambda event: print('chosen', its.selection()))",
    ]
    names = ["''", "'I001'", "'I002'", "'I003'", "'crab'", "'nobody'"]
    for number in range(30):
        one, other, values = chance.choice(names), chance.choice(names), chance.choice(("('eel', 3)", "('cod roe',)"))
        index, column = chance.choice(("'end'", "0", "1", "7")), chance.choice(("'kind'", "'count'", "'#1'", "'mud'"))
        call = chance.choice(
            (
                *[f"insert({chance.choice(names[:3])}, {index}, values={values}, text='t{number}')"] * 3,
                *(f"insert('', 'end', iid={one}, tags=('a', 'b'))", f"item({one})", f"item({one}, 'values')"),
                *(f"item({one}, values={values}, open=True)", f"set({one})", f"set({one}, {column})"),
                *(f"set({one}, {column}, {number})", f"delete({one})", f"move({one}, '', {index})"),
                *(f"index({one})", f"parent({one})", f"next({one})", f"prev({one})", f"exists({one})"),
                *(f"selection_set({one}, {other})", f"selection_add({one})", f"selection_toggle({one})"),
                *(f"selection_remove({one})", f"focus({one})", "focus()", f"get_children({one})", f"detach({one})"),
                *(
                    f"column({column}, 'minwidth')",
                    f"column({column}, width={number + 20})",
                    f"heading({column}, text='Kind')",
                ),
                *(f"heading({column})", "tag_has('a')", f"tag_has('b', {one})", f"see({one})"),
            )
        )
        lines.append(f"told({number}, lambda: its.{call})")
        if chance.random() < 0.3:
            lines.append("root.update()")
    return "\n".join([*lines, "root.update()", "root.destroy()", ""])


#: Makers of programs by what they try, each from a number.
PROGRAMS = {"widgets": generated_desk.program, "layout": layout, "events": events, "hits": hits, "tables": tables}
