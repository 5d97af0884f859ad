from array import array

import numpy as np

levels = np.arange(12.0).reshape(3, 4)
ebb = levels[1]
levels[1, 2] = 99
ebb[0] = 5
levels += 1
levels[:, 1] = 0
counts = array("i", range(30))
counts[3] = 7
counts.append(4)
counts[3] = 8
counts.pop(0)
dry = np.zeros(3, dtype=bool)
dry[1] = True
dry[1] = False
waves = np.array([1 + 2j, 3])
waves[0] = 0
gauges = [np.zeros(2) for _ in range(70)]
gauges[69][1] = 3
coarse = np.zeros(3, dtype=np.float16)
coarse[1] = 2
wide = np.zeros(2000)
wide[1500] = 3
wide[3] = 4
levels.sort(axis=0)
levels = levels.T
levels[0, 0] = -3
for station in range(3):
    levels = np.full(4, station)
    levels[station] = -1
print(levels.sum(), counts, dry, waves, wide[3])
