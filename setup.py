"""Compiles the recorder's hooks where there is a C compiler; without one, the same sources run as they are."""

import os

from setuptools import Extension, setup

#: The hottest modules of what runs in a recorded program's process, with their types in `.pxd` files beside them.
COMPILED = (
    "eelgrass.recorder.packing",
    "eelgrass.recorder.confinement.system_calls",
    *(f"eelgrass.recorder.process.{name}" for name in ("telling", "insisting", "handlers", "readings", "call_stack")),
    *(
        f"eelgrass.recorder.hooks.{name}"
        for name in ("log", "frames", "generators", "implicit_waits", "inner_frames", "outside", "roomy")
    ),
    *(
        f"eelgrass.recorder.hooks.objects.{name}"
        for name in ("registry", "numbers", "versions", "type_facts", "bounds", "keys")
    ),
    *(
        f"eelgrass.recorder.hooks.changes.{name}"
        for name in (
            *("changes", "held", "patching", "reaching", "ways", "leading", "comparing"),
            *("sequence_patching", "keyed_patching"),
        )
    ),
)

#: What only compiled code can do has no other form.
CYTHON_ONLY = (
    "outside",
    "roomy",
    "numbers",
    "versions",
    "comparing",
    "telling",
    "insisting",
    "handlers",
    "readings",
    "call_stack",
    "system_calls",
)


def source_of(name: str) -> str:
    """The file of a module."""
    return f"src/{name.replace('.', '/')}.{'pyx' if name.endswith(CYTHON_ONLY) else 'py'}"


def extensions() -> list[Extension]:
    """What is compiled: nothing where that is not wanted."""
    if os.environ.get("EELGRASS_HOOKS") == "plain":
        return []
    from Cython.Build import cythonize

    return cythonize(
        [Extension(name, [source_of(name)], optional=True, extra_compile_args=["-O2", "-g0"]) for name in COMPILED],
        include_path=["src"],
        build_dir="build/cython",
        nthreads=2,
        compiler_directives={"language_level": "3", "binding": False, "annotation_typing": False},
    )


if __name__ == "__main__":  # the processes of `cythonize` read this file, too
    setup(ext_modules=extensions(), options={"build_ext": {"parallel": 2}})
