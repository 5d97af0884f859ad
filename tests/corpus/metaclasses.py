"""Metaclasses, hooks of class creation, super and slots."""
class Registry(type):
    known = []
    def __new__(meta, name, bases, space, **options):
        made = super().__new__(meta, name, bases, dict(space))
        meta.known.append((name, sorted(options)))
        return made
    def __init__(cls, name, bases, space, **options):
        super().__init__(name, bases, space)
    def __call__(cls, *values):
        print("making", cls.__name__)
        return super().__call__(*values)
class Plant(metaclass=Registry):
    def __init_subclass__(cls, deep=False, **rest):
        super().__init_subclass__(**rest)
        cls.deep = deep
    def __init__(self, height):
        self.height = height
class Eelgrass(Plant, deep=True):
    __slots__ = ("shoots",)
    def __init__(self, height, shoots):
        super().__init__(height)
        self.shoots = shoots
    def grow(self):
        self.height += 1
        self.shoots -= 1
        return __class__.__name__
grass = Eelgrass(3, 5)
print(grass.grow(), grass.height, grass.shoots, Eelgrass.deep, Registry.known)
class Space(dict):
    def __setitem__(self, key, value):
        super().__setitem__(key, value)
class Meta(type):
    @classmethod
    def __prepare__(meta, name, bases):
        return Space(before=1)
class Odd(metaclass=Meta):
    after = 2
    def tell(self):
        return self.after
print(Odd().tell())
