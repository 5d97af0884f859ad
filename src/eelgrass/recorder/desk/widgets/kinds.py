"""The kinds of widgets: which options each has, and what they are when nothing is said."""

from __future__ import annotations

from typing import Any

SYNONYMS = {
    "bg": "background",
    "bd": "borderwidth",
    "fg": "foreground",
    "invcmd": "invalidcommand",
    "vcmd": "validatecommand",
}

_BOX = "background borderwidth cursor highlightbackground highlightcolor highlightthickness relief takefocus"
_LABEL = (
    f"{_BOX} activebackground activeforeground anchor bitmap compound disabledforeground font foreground height image "
    "justify padx pady state text textvariable underline width wraplength"
)
_TEXT = (
    f"{_BOX} exportselection font foreground insertbackground insertborderwidth insertofftime insertontime insertwidth "
    "selectbackground selectborderwidth selectforeground state width xscrollcommand"
)
_ENTRY = (
    f"{_TEXT} disabledbackground disabledforeground invalidcommand justify readonlybackground show "
    "textvariable validate "
    "validatecommand"
)
_PRESSED = f"{_LABEL} command overrelief"
_CHOSEN = f"{_PRESSED} indicatoron offrelief selectcolor selectimage tristateimage tristatevalue variable"
_FRAME = f"{_BOX} class colormap container height padx pady visual width"
#: By the command that makes one: Tk's class, options.
KINDS: dict[str, tuple[str, frozenset[str]]] = {
    name: (class_, frozenset(words.split()))
    for name, class_, words in (
        ("toplevel", "Toplevel", f"{_FRAME} menu screen use"),
        ("frame", "Frame", _FRAME),
        ("labelframe", "Labelframe", f"{_FRAME} font foreground labelanchor labelwidget text"),
        ("label", "Label", _LABEL),
        ("message", "Message", f"{_LABEL} aspect"),
        ("button", "Button", f"{_PRESSED} default repeatdelay repeatinterval"),
        ("checkbutton", "Checkbutton", f"{_CHOSEN} offvalue onvalue"),
        ("radiobutton", "Radiobutton", f"{_CHOSEN} value"),
        ("entry", "Entry", _ENTRY),
        (
            "spinbox",
            "Spinbox",
            f"{_ENTRY} activebackground buttonbackground buttoncursor buttondownrelief buttonuprelief command "
            "format from "
            "increment repeatdelay repeatinterval to values wrap",
        ),
        (
            "text",
            "Text",
            f"{_TEXT} autoseparators blockcursor endline height inactiveselectbackground insertunfocussed maxundo "
            "padx pady "
            "setgrid spacing1 spacing2 spacing3 startline tabs tabstyle undo wrap yscrollcommand",
        ),
        (
            "listbox",
            "Listbox",
            f"{_TEXT} activestyle disabledforeground height justify listvariable selectmode setgrid yscrollcommand",
        ),
        (
            "scale",
            "Scale",
            f"{_BOX} activebackground bigincrement command digits font foreground from label length orient repeatdelay "
            "repeatinterval resolution showvalue sliderlength sliderrelief state tickinterval to troughcolor "
            "variable width",
        ),
        (
            "scrollbar",
            "Scrollbar",
            f"{_BOX} activebackground activerelief command elementborderwidth jump orient repeatdelay repeatinterval "
            "troughcolor width",
        ),
        (
            "canvas",
            "Canvas",
            f"{_TEXT} closeenough confine height offset scrollregion xscrollincrement yscrollcommand yscrollincrement",
        ),
        (
            "menu",
            "Menu",
            f"{_BOX} activebackground activeborderwidth activeforeground disabledforeground font foreground "
            "postcommand "
            "selectcolor tearoff tearoffcommand title type",
        ),
        ("menubutton", "Menubutton", f"{_PRESSED} direction indicatoron menu"),
        (
            "panedwindow",
            "Panedwindow",
            f"{_BOX} handlepad handlesize height opaqueresize orient proxybackground sashcursor sashpad "
            "sashrelief sashwidth "
            "showhandle width",
        ),
    )
}
#: Kinds of `ttk`, which take more options, and look alike here.
THEMED = {
    f"ttk::{name}": class_
    for name, class_ in (
        *(
            ("frame", "TFrame"),
            ("label", "TLabel"),
            ("button", "TButton"),
            ("entry", "TEntry"),
            ("checkbutton", "TCheckbutton"),
        ),
        *(("radiobutton", "TRadiobutton"), ("combobox", "TCombobox"), ("scale", "TScale"), ("scrollbar", "TScrollbar")),
        *(
            ("labelframe", "TLabelframe"),
            ("spinbox", "TSpinbox"),
            ("progressbar", "TProgressbar"),
            ("separator", "TSeparator"),
        ),
        *(
            ("notebook", "TNotebook"),
            ("treeview", "Treeview"),
            ("panedwindow", "TPanedwindow"),
            ("menubutton", "TMenubutton"),
            ("sizegrip", "TSizegrip"),
        ),
    )
}
_GREY = "#d9d9d9"
_COMMON: dict[str, Any] = {
    **{"background": _GREY, "foreground": "#000000", "borderwidth": 1, "highlightthickness": 1, "relief": "flat"},
    **{"state": "normal", "font": "TkDefaultFont", "anchor": "center", "justify": "center", "padx": 1, "pady": 1},
    **{"cursor": "", "takefocus": "", "text": "", "textvariable": "", "command": "", "image": "", "wraplength": 0},
    **{"width": 0, "height": 0, "from": 0.0, "to": 100.0, "orient": "vertical", "variable": "", "value": ""},
    **{"activebackground": "#ececec", "activeforeground": "#000000", "disabledforeground": "#a3a3a3", "underline": -1},
    **{
        "onvalue": 1,
        "offvalue": 0,
        "resolution": 1.0,
        "increment": 1.0,
        "show": "",
        "validate": "none",
        "wrap": "char",
    },
    **{"exportselection": 1, "selectmode": "browse", "scrollregion": "", "tearoff": 1, "menu": "", "values": ""},
    **{"length": 100, "label": "", "showvalue": 1, "title": "", "compound": "none", "bitmap": "", "indicatoron": 1},
}
_OWN: dict[str, dict[str, Any]] = {
    "Frame": {"borderwidth": 0, "highlightthickness": 0, "padx": 0, "pady": 0},
    "Toplevel": {"borderwidth": 0, "highlightthickness": 0, "padx": 0, "pady": 0},
    "Labelframe": {"borderwidth": 2, "relief": "groove", "padx": 0, "pady": 0},
    "Label": {"highlightthickness": 0},
    "Button": {"relief": "raised", "padx": "3m", "pady": "1m"},
    "Entry": {"background": "#ffffff", "relief": "sunken", "width": 20, "justify": "left", "font": "TkTextFont"},
    "Spinbox": {"background": "#ffffff", "relief": "sunken", "width": 20, "justify": "left", "font": "TkTextFont"},
    "Text": {"background": "#ffffff", "relief": "sunken", "width": 80, "height": 24, "font": "TkFixedFont"},
    "Listbox": {"background": "#ffffff", "relief": "sunken", "width": 20, "height": 10},
    "Canvas": {"width": 378, "height": 265, "borderwidth": 0},
    "Scale": {"width": 15},
    "Scrollbar": {"width": 11},
}


def default(class_: str, name: str) -> Any:
    """What an option is when nothing is said; '' where that does not matter here."""
    own = _OWN.get("Toplevel" if class_ == "Tk" else class_, {})
    return own[name] if name in own else _COMMON.get(name, "")
