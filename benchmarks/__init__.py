"""Measurements; `./bench NAME` runs `benchmarks/NAME.py`. Results are published in `docs/performance.md`."""
