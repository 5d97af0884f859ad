"""Programs with windows that say all that they see of them, to be run at the simulated desk and on a real screen."""

from __future__ import annotations

import importlib.util
from pathlib import Path

import pytest

HAS_TK = importlib.util.find_spec("tkinter") is not None


def skip_without_tk(program: Path) -> None:
    """Skips a test whose program shows windows, where this Python has none."""
    text = program.read_text()
    if not HAS_TK and ("import tkinter" in text or "import turtle" in text):
        pytest.skip("this Python has no tkinter")


#: Nothing is done here: they do everything themselves.
ALONE = {
    "widgets and variables": """\
import tkinter as tk
root = tk.Tk()
root.title("Bay of Linnet")
tide, is_high, height = tk.StringVar(value="low"), tk.BooleanVar(), tk.IntVar(value=3)
tide.trace_add("write", lambda *_given: print("tide is", tide.get()))
label = tk.Label(root, textvariable=tide, font=("Arial", 14))
entry = tk.Entry(root, textvariable=tide, width=12)
check = tk.Checkbutton(root, text="high", variable=is_high, command=lambda: print("high", is_high.get()))
ways = [tk.Radiobutton(root, text=str(n), variable=height, value=n) for n in (1, 2, 3)]
button = tk.Button(root, text="rise", command=lambda: tide.set("high"), state="normal")
for part in (label, entry, check, *ways, button):
    part.pack()
button.invoke()
check.invoke()
check.invoke()
ways[0].invoke()
print(height.get(), label["text"], entry.get(), button.cget("text"), button["state"])
entry.delete(0, "end")
entry.insert(0, "ebb")
entry.insert("end", "ing")
entry.delete(0)
print(entry.get(), tide.get(), entry.index("end"))
button.config(text="fall", bg="navy", state="disabled")
button.invoke()
print(button["text"], button["background"], str(button), button.winfo_class(), button.winfo_parent())
try:
    button.config(colour="red")
except tk.TclError as error:
    print(error)
try:
    tk.Label(root, bg="seaweed").pack()
    print("any colour")
except tk.TclError as error:
    print(error)
print(root.title(), len(root.winfo_children()), isinstance(button.master, tk.Tk))
root.destroy()
try:
    label.config(text="late")
except tk.TclError as error:
    print(type(error).__name__)
""",
    "lists and texts": """\
import tkinter as tk
from tkinter import scrolledtext
root = tk.Tk()
box = tk.Listbox(root, selectmode="extended")
box.pack()
for crab in ("shore", "spider", "hermit", "edible"):
    box.insert("end", crab)
box.insert(0, "green")
box.delete(2)
print(box.size(), box.get(0, "end"), box.get(1))
box.selection_set(0, 1)
box.selection_clear(0)
print(box.curselection(), box.selection_includes(1), box.selection_includes(0))
text = scrolledtext.ScrolledText(root, width=20, height=4)
text.pack()
text.insert("1.0", "eels: 3\\nrays: 5\\n")
text.insert("end", "skate: 1")
print(repr(text.get("1.0", "end")), repr(text.get("2.0", "2.end")), text.index("end"), text.index("2.3"))
text.delete("1.0", "2.0")
print(repr(text.get("1.0", "end-1c")))
text.config(state="disabled")
text.insert("end", "!")
print(repr(text.get("1.0", "end-1c")))
scale = tk.Scale(root, from_=0, to=10, orient="horizontal")
scale.set(7)
spin = tk.Spinbox(root, from_=1, to=5)
print(scale.get(), scale["to"], type(scale.get()).__name__)
root.destroy()
""",
    "a canvas": """\
import tkinter as tk
root = tk.Tk()
sea = tk.Canvas(root, width=300, height=200, bg="white")
sea.pack()
boat = sea.create_polygon(10, 10, 50, 10, 30, 30, fill="teal", tags=("boat", "moves"))
buoy = sea.create_oval(100, 100, 120, 120, fill="orange", tags="moves")
line = sea.create_line([(0, 0), (300, 200)], width=2)
mast = sea.create_rectangle(28, 0, 32, 10, outline="", fill="brown")
sea.move("moves", 5, 7)
print(boat, buoy, line, sea.coords(boat), sea.coords(buoy), sea.type(line))
print(sea.find_withtag("moves"), sea.gettags(boat), sea.find_all())
sea.itemconfig(buoy, fill="red", state="hidden")
print(sea.itemcget(buoy, "fill"), sea.itemcget("boat", "fill"), sea.itemcget(buoy, "state"))
sea.tag_raise(boat)
print(sea.find_all(), sea.find_overlapping(0, 0, 40, 40))
sea.tag_lower(boat)
sea.coords(line, 1, 2, 3, 4)
print(sea.find_all(), sea.coords(line), sea.coords("nothing"))
sea.addtag_withtag("old", buoy)
sea.dtag(boat, "moves")
print(sea.find_withtag("moves"), sea.gettags(buoy))
sea.scale(mast, 0, 0, 2, 3)
print(sea.coords(mast))
sea.delete("moves", line)
print(sea.find_all(), sea.find_closest(30, 20))
root.destroy()
""",
    "time and events": """\
import tkinter as tk
root = tk.Tk()
said = []
def tell(event=None):
    said.append("told" if event is None else event.keysym or event.num)
entry = tk.Entry(root)
entry.pack()
entry.bind("<<Ebb>>", lambda event: said.append("ebb"))
root.bind("<<Ebb>>", lambda event: said.append("root"))
entry.event_generate("<<Ebb>>")
root.update()
entry.event_generate("<<Ebb>>")
late = root.after(60000, tell)
root.after_cancel(late)
root.after(30, tell)
root.after(10, lambda: said.append("first"))
root.after_idle(lambda: said.append("idle"))
root.after(80, root.quit)
root.mainloop()
print(said)
waits = tk.BooleanVar()
root.after(10, lambda: waits.set(True))
root.wait_variable(waits)
print(waits.get(), entry.bind("<<Ebb>>") != "", root.bind())
def broken():
    raise ValueError("the net is torn")
root.after(5, broken)
root.after(30, root.destroy)
root.mainloop()
print("over")
""",
    "a grid": """\
import tkinter as tk
from tkinter import ttk
root = tk.Tk()
for row, name in enumerate(("species", "count")):
    ttk.Label(root, text=name).grid(row=row, column=0, sticky="w", padx=4)
    tk.Entry(root).grid(row=row, column=1)
frame = tk.LabelFrame(root, text="weather")
frame.grid(row=2, column=0, columnspan=2)
tk.Label(frame, text="calm").pack()
print(root.grid_size(), frame.grid_info()["columnspan"], frame.winfo_manager())
print([str(its) for its in root.grid_slaves(row=0)])
try:
    tk.Label(root, text="no").pack()
except tk.TclError as error:
    print(error)
combo = ttk.Combobox(root, values=["reef", "mud"])
combo.set("mud")
print(combo.get(), combo["values"], combo.current())
print([str(its) for its in root.winfo_children()])
frame.grid_forget()
print(frame.winfo_manager() == "")
menu = tk.Menu(root)
files = tk.Menu(menu, tearoff=0)
files.add_command(label="Open", command=lambda: print("opened"))
menu.add_cascade(label="File", menu=files)
root.config(menu=menu)
files.invoke(0)
print(files.index("end"))
root.destroy()
""",
    "a form with rules": """\
import tkinter as tk
from tkinter import ttk
root = tk.Tk()
def is_count(text):
    print("asked", repr(text))
    return text == "" or text.isdigit()
rule = (root.register(is_count), "%P")
count = ttk.Entry(root)
eels = tk.Entry(root, validate="key", validatecommand=rule)
eels.pack()
count.pack()
eels.insert(0, "12")
eels.insert("end", "x")
print(eels.get())
eels.delete(0, "end")
print(repr(eels.get()), eels["validate"])
style = ttk.Style()
bar = ttk.Progressbar(root, maximum=10, length=100)
bar["value"] = 4
bar.step(3)
print(float(bar["value"]))
frame = tk.Frame(root, width=50, height=40)
frame.pack_propagate(False)
frame.pack(side="left", padx=3, pady=(2, 4), anchor="n")
info = frame.pack_info()
print(info["side"], info["anchor"], info["expand"], info["fill"])
for wrong in ({"side": "lft"}, {"fill": "z"}, {"anchor": "middle"}):
    try:
        frame.pack(**wrong)
    except tk.TclError as error:
        print(error)
def failing(*_given):
    raise KeyError("weir")
root.report_callback_exception = lambda kind, value, trace: print("reported", kind.__name__, value)
tk.Button(root, text="fail", command=failing)
root.after(1, failing)
root.after(20, root.destroy)
root.mainloop()
""",
    "the frames of a game": """\
import tkinter as tk
class Game:
    def __init__(self, root):
        self.root, self.frame, self.caught = root, 0, 0
        self.sea = tk.Canvas(root, width=200, height=100)
        self.sea.pack()
        self.net = self.sea.create_rectangle(90, 80, 110, 90, fill="brown")
        self.crabs = [self.sea.create_oval(x, 0, x + 8, 8, fill="red", tags="crab") for x in (10, 95, 180)]
        self.step()
    def step(self):
        self.frame += 1
        self.sea.move("crab", 0, 5)
        box = self.sea.coords(self.net)
        for crab in self.sea.find_withtag("crab"):
            x0, y0, x1, y1 = self.sea.coords(crab)
            if box[0] < x1 and x0 < box[2] and y1 >= box[1]:
                self.sea.delete(crab)
                self.caught += 1
        if self.frame < 20:
            self.root.after(5, self.step)
        else:
            print("frame", self.frame, "caught", self.caught, [self.sea.coords(its) for its in self.crabs])
            self.root.destroy()
root = tk.Tk()
Game(root)
root.mainloop()
""",
    "a turtle": """\
import turtle
screen = turtle.Screen()
screen.setup(400, 300)
pen = turtle.Turtle()
pen.speed(0)
for side in range(5):
    pen.forward(80)
    pen.right(144)
pen.penup()
pen.goto(-30, 40)
pen.setheading(120)
pen.dot(10, "teal")
pen.circle(20, 180)
stamp = pen.stamp()
pen.clearstamp(stamp)
pen.undo()
print(pen.pos(), round(pen.heading(), 6), pen.isdown(), pen.distance(0, 0) > 10, pen.towards(0, 0) > 0)
pen.color("red", (0.1, 0.5, 0.2))
print(pen.color(), pen.pensize(), pen.shape(), screen.bgcolor(), screen.colormode(), pen.speed())
other = pen.clone()
other.shape("turtle")
other.left(90)
print(len(screen.turtles()), other.heading() - pen.heading(), screen.window_width(), screen.window_height())
try:
    pen.color("seaweed")
except turtle.TurtleGraphicsError as error:
    print(error)
screen.bye()
""",
}

#: A button that counts, a timer, keys: something has to be done here.
TALLY = """\
import tkinter as tk
count = 0
def add():
    global count
    count += 1
    label.config(text=f"eels: {count}")
def tick():
    print("tick", count)
    root.after(1000, tick)
def on_key(event):
    print("key", event.keysym)
root = tk.Tk()
root.title("Tally")
label = tk.Label(root, text="eels: 0")
label.pack(pady=10)
entry = tk.Entry(root, width=10)
entry.pack()
tk.Button(root, text="add", command=add).pack(side="left")
tk.Button(root, text="leave", command=root.destroy).pack(side="right")
entry.bind("<Key>", on_key)
root.after(1000, tick)
root.mainloop()
print("end", count)
"""

#: As many strokes as it is told, in a spiral.
SPIRAL = """\
import turtle
turtle.tracer(0) if {strokes} > 5000 else None
for stroke in range({strokes}):
    turtle.forward(stroke % 200)
    turtle.left(91)
turtle.done()
"""

#: A window with menus, pages, and things of which one is chosen.
PAGES = """\
import tkinter as tk
from tkinter import ttk
root = tk.Tk()
root.title("Bay of Linnet")
menu = tk.Menu(root)
file = tk.Menu(menu, tearoff=0)
file.add_command(label="Open", command=lambda: print("open"))
file.add_command(label="Save", command=lambda: print("save"))
menu.add_cascade(label="File", menu=file)
menu.add_command(label="Help", command=lambda: print("help"))
root.config(menu=menu)
book = ttk.Notebook(root)
book.pack(fill="both", expand=True)
first, second = ttk.Frame(book), ttk.Frame(book)
book.add(first, text="Catch")
book.add(second, text="Chart")
kind = tk.Listbox(first, height=4)
kind.insert("end", "eel", "cod", "crab")
kind.pack(side="left")
kind.bind("<<ListboxSelect>>", lambda event: print("chose", kind.get(kind.curselection()[0])))
depth = tk.Scale(first, from_=0, to=40, orient="horizontal", command=lambda value: print("depth", value))
depth.pack()
sea = tk.Canvas(second, width=260, height=180, bg="#cfe8ef")
sea.pack()
sea.create_window(200, 150, window=tk.Button(sea, text="mark", command=lambda: print("marked")))
book.bind("<<NotebookTabChanged>>", lambda event: print("page", book.index("current")))
tk.Button(root, text="end", command=root.destroy).pack()
root.mainloop()
"""
