"""The colours of Eelgrass, in one table: those of the window and of its pages."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Palette:
    """One set of colours, by what they are for."""

    foam: str = "#FFFDF7"  # behind the text
    sand: str = "#F7F1E2"  # the module's layer, headings
    sand_edge: str = "#D9CDAE"
    beach: str = "#FBF7EC"  # behind strips and the bench
    water: str = "#E7EFEA"  # behind the layers
    shallow: str = "#D2E6DD"
    deep: str = "#2A655C"
    waterline: str = "#F0E0B4"
    ink: str = "#1B2A29"
    ink_soft: str = "#56655F"
    ink_faded: str = "#6E7569"
    on_deep: str = "#F4FBF7"
    on_deep_soft: str = "#C4DDD4"
    note: str = "#2A655C"
    leaf: str = "#CBEA93"
    leaf_dark: str = "#4F7A1C"
    kelp: str = "#7A4518"
    coral: str = "#B7402A"
    coral_pale: str = "#F5C9B6"
    number: str = "#0B6B78"
    text_literal: str = "#55700F"
    comment: str = "#6A6E61"
    hatch: str = "#DCCFAD"
    tag: str = "#F2D29B"
    tag_tints: tuple[str, ...] = ("#E5DB9F", "#F2D29B", "#C9D9CB", "#EBC9AF")
    middle: str = "#9CC7BA"  # the layers between the module's and the innermost
    trouble_on_deep: str = "#FFC9B8"
    change_on_deep: str = "#CBEA93"
    ink_on_leaf: str = "#1B2A29"
    ink_on_tag: str = "#7A4518"


LIGHT = Palette()
DARK = Palette(
    foam="#12201E",
    sand="#2B2B20",
    sand_edge="#5D5740",
    beach="#172725",
    water="#0E1917",
    shallow="#1D3B35",
    deep="#8FD3C1",
    waterline="#4A4222",
    ink="#EDF4F0",
    ink_soft="#B3C4BC",
    ink_faded="#93A59D",
    on_deep="#0C1A17",
    on_deep_soft="#21463E",
    note="#8FD3C1",
    leaf="#55702B",
    leaf_dark="#B9DE7C",
    kelp="#E0A96E",
    coral="#FF9C83",
    coral_pale="#4B241B",
    number="#7FD0DE",
    text_literal="#BFD97F",
    comment="#9BA89F",
    hatch="#3F4534",
    tag="#5A4A22",
    tag_tints=("#4E4A20", "#5A4A22", "#27443B", "#573C28"),
    middle="#2B564C",
    trouble_on_deep="#7A1F0E",
    change_on_deep="#33510C",
    ink_on_leaf="#FFFFFF",
    ink_on_tag="#F6DDB4",
)
STRONG = Palette(
    foam="#FFFFFF",
    sand="#F6F0DC",
    sand_edge="#6B6248",
    beach="#FFFFFF",
    water="#F1F5F3",
    shallow="#DDEBE5",
    deep="#003B33",
    waterline="#FFE9A8",
    ink="#000000",
    ink_soft="#33403C",
    ink_faded="#444C48",
    on_deep="#FFFFFF",
    on_deep_soft="#E3F2EC",
    note="#003B33",
    leaf="#D8F29B",
    leaf_dark="#2F5200",
    kelp="#5A2C00",
    coral="#8C1B08",
    coral_pale="#FFCDBB",
    number="#00424D",
    text_literal="#334500",
    comment="#454A42",
    hatch="#B5A987",
    tag="#F8DEAE",
    middle="#C3DCD2",
    ink_on_leaf="#000000",
    ink_on_tag="#5A2C00",
)
#: Every look by its name, in the order in which they follow each other.
LOOKS = {"light": LIGHT, "dark": DARK, "strong": STRONG}
