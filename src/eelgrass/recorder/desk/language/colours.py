"""Names of colours, as X11 has them: those that programs of beginners use."""

from __future__ import annotations

from eelgrass.recorder.desk.language.words import TclError, as_text

_NAMES = """
white ffffff|black 000000|red ff0000|green 008000|blue 0000ff|yellow ffff00|cyan 00ffff|magenta ff00ff|orange ffa500
purple 800080|pink ffc0cb|brown a52a2a|gray bebebe|grey bebebe|gold ffd700|silver c0c0c0|maroon 800000|navy 000080
olive 808000|teal 008080|lime 00ff00|aqua 00ffff|fuchsia ff00ff|violet ee82ee|indigo 4b0082|darkslateblue 483d8b
mediumslateblue 7b68ee|turquoise 40e0d0|tan d2b48c|salmon fa8072|coral ff7f50|khaki f0e68c|beige f5f5dc|ivory fffff0
lavender e6e6fa|plum dda0dd|orchid da70d6|crimson dc143c|chocolate d2691e|firebrick b22222|tomato ff6347
skyblue 87ceeb|lightblue add8e6|darkblue 00008b|darkgreen 006400|darkred 8b0000|lightgreen 90ee90|forestgreen 228b22
seagreen 2e8b57|limegreen 32cd32|springgreen 00ff7f|steelblue 4682b4|royalblue 4169e1|dodgerblue 1e90ff
deepskyblue 00bfff|slateblue 6a5acd|slategray 708090|slategrey 708090|midnightblue 191970|lightgray d3d3d3
lightgrey d3d3d3|darkgray a9a9a9|darkgrey a9a9a9|dimgray 696969|dimgrey 696969|lightyellow ffffe0|lightpink ffb6c1
hotpink ff69b4|deeppink ff1493|darkorange ff8c00|orangered ff4500|goldenrod daa520|darkviolet 9400d3|wheat f5deb3
sienna a0522d|peru cd853f|linen faf0e6|snow fffafa|azure f0ffff|mintcream f5fffa|honeydew f0fff0|aquamarine 7fffd4
chartreuse 7fff00|lawngreen 7cfc00|yellowgreen 9acd32|darkcyan 008b8b|darkmagenta 8b008b|thistle d8bfd8
cornflowerblue 6495ed|cadetblue 5f9ea0|powderblue b0e0e6|palegreen 98fb98|mediumblue 0000cd|mediumpurple 9370db
indianred cd5c5c|sandybrown f4a460|rosybrown bc8f8f|moccasin ffe4b5|bisque ffe4c4|antiquewhite faebd7
whitesmoke f5f5f5|ghostwhite f8f8ff|gainsboro dcdcdc|darkslategray 2f4f4f|darkslategrey 2f4f4f|darkolivegreen 556b2f
olivedrab 6b8e23|mediumseagreen 3cb371|lightseagreen 20b2aa|lightcoral f08080|lightsalmon ffa07a|lightcyan e0ffff
paleturquoise afeeee|mediumturquoise 48d1cc|darkturquoise 00ced1|mediumorchid ba55d3|blueviolet 8a2be2
darkorchid 9932cc|maroon4 8b1c62|palegoldenrod eee8aa|darkkhaki bdb76b|lemonchiffon fffacd|papayawhip ffefd5
peachpuff ffdab9|mistyrose ffe4e1|blanchedalmond ffebcd|navajowhite ffdead|cornsilk fff8dc|seashell fff5ee
oldlace fdf5e6|floralwhite fffaf0|aliceblue f0f8ff|systembuttonface d9d9d9|systemwindow ffffff|systemwindowtext 000000
systembuttontext 000000
"""
_KNOWN = {
    name: tuple(int(value[place : place + 2], 16) for place in (0, 2, 4))
    for name, value in (pair.split() for line in _NAMES.split("\n") for pair in line.split("|") if pair)
}


def rgb(colour: object) -> tuple[int, int, int]:
    """A colour's shares of red, green and blue, each up to 255. Raises TclError."""
    text = as_text(colour)
    known = _KNOWN.get(text.lower().replace(" ", ""))
    if known is not None:
        return known  # type: ignore[return-value]
    if text.startswith("#") and len(text) in (4, 7, 13):
        size = (len(text) - 1) // 3
        try:
            parts = [int(text[1 + size * place : 1 + size * (place + 1)], 16) for place in range(3)]
            red, green, blue = (part * 17 if size == 1 else part >> 8 if size == 4 else part for part in parts)
            return red, green, blue
        except ValueError:
            pass
    shade = text.lower().rstrip("0123456789")
    if shade in ("gray", "grey") and text[len(shade) :].isdecimal() and int(text[len(shade) :]) <= 100:
        share = round(int(text[len(shade) :]) * 2.55)
        return share, share, share
    if shade in _KNOWN and text[len(shade) :] in ("1", "2", "3", "4"):
        factor = (1.0, 0.932, 0.804, 0.548)[int(text[-1]) - 1]
        red, green, blue = (round(part * factor) for part in _KNOWN[shade])
        return red, green, blue
    raise TclError(f'{"invalid" if text.startswith("#") else "unknown"} color name "{text}"')
