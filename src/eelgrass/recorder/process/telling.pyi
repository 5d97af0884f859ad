import io
from collections.abc import Callable

def tell_by(
    kind: type[io.TextIOWrapper],
    before: Callable[[io.TextIOWrapper], None],
    after: Callable[[io.TextIOWrapper, str], None],
) -> list[str]: ...
