"""A button to count eels with, at the trap."""

import tkinter as tk

eels = 0


def add(event=None):
    global eels
    eels += 1
    label.config(text=f"eels: {eels}")


def leave():
    print("eels:", eels)
    root.destroy()


root = tk.Tk()
root.title("Trap 2")
label = tk.Label(root, text="eels: 0")
label.pack(padx=20, pady=10)
button = tk.Button(root, text="one more", command=add)
button.bind("<Button-1>", add)
button.pack()
root.protocol("WM_DELETE_WINDOW", leave)
root.mainloop()
