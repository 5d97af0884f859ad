# -*- coding: latin-1 -*-
"""An encoding declaration, and names that are not ASCII."""
höhe = 3
verändert = [höhe * 2 for höhe in (1, 2)]
print(höhe, verändert, "ß".upper(), ascii("é"))
größte = max(verändert)
for fläche in (größte, höhe):
    höhe += fläche
print(höhe, größte)
