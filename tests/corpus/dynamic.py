"""exec, eval, and what a program sees of its own names and frames."""
import sys
namespace = {}
exec("depth = 3\nnames = ['reef']", namespace)
print(namespace["depth"], eval("depth + 1", namespace), sorted(set(namespace) - {"__builtins__"}))
exec("fresh = 7")
print(fresh)
globals()["planted"] = [1]
planted.append(2)
print(planted, "planted" in globals())
def look(place, *rest):
    inner = place + 1
    seen = sorted(locals())
    return seen, sorted(vars()), eval("place + inner"), sys._getframe().f_code.co_name, sys._getframe(1).f_lineno > 0
print(look(4))
class Chart:
    size = 3
    inside = sorted(name for name in locals() if not name.startswith("__"))
print(Chart.inside, compile("1 + 1", "x", "eval").co_name)
made = type("Made", (), {"tell": lambda self: "made"})
print(made().tell(), getattr(made, "none", "absent"), callable(look))
