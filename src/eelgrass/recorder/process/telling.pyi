import io
from collections.abc import Callable

def tell_by(
    kind: type[io.TextIOWrapper],
    before: Callable[[io.TextIOWrapper, bool], None],
    after: Callable[[io.TextIOWrapper, str], None],
) -> list[str]: ...
