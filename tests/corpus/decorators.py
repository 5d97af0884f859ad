"""Decorators with and without arguments, on functions and classes."""
import functools
def logged(prefix):
    def around(function):
        @functools.wraps(function)
        def inside(*values, **named):
            result = function(*values, **named)
            print(prefix, function.__name__, result)
            return result
        return inside
    return around
@logged("read")
@functools.lru_cache(maxsize=None)
def shoots(season):
    return season if season < 2 else shoots(season - 1) + shoots(season - 2)
print(shoots(5), shoots.__name__)
def tagged(class_):
    class_.tag = class_.__name__.lower()
    return class_
@tagged
class Crab:
    @staticmethod
    def legs():
        return 8
    @classmethod
    def make(cls):
        return cls()
    @property
    def shell(self):
        return self._shell
    @shell.setter
    def shell(self, value):
        self._shell = value * 2
    @shell.deleter
    def shell(self):
        del self._shell
crab = Crab.make()
crab.shell = 4
print(Crab.tag, crab.shell, Crab.legs())
del crab.shell
print(hasattr(crab, "shell"), vars(crab))
