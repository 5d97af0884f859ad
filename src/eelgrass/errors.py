"""What a person is told when something cannot be done."""

from __future__ import annotations

#: Nobody reads more; names in files of others can be of any length.
_MOST_CHARACTERS = 600


class EelgrassError(Exception):
    """A failure that is the person's to know of, not an error of ours: its text is a whole sentence for them."""

    def __init__(self, sentence: str = "") -> None:
        half = _MOST_CHARACTERS // 2
        is_long = len(sentence) > _MOST_CHARACTERS
        super().__init__(f"{sentence[:half]} … {sentence[-half:]}" if is_long else sentence)


class FileError(EelgrassError):
    """A file could not be read or written. `sentence` has {0} for why."""

    def __init__(self, sentence: str, error: OSError | ValueError) -> None:
        why = (error.strerror if isinstance(error, OSError) else None) or str(error)
        super().__init__(sentence.format(why))
