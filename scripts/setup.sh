# Sourced by ./run and ./test, from the project's folder: system libraries, then .venv with Eelgrass and what it needs.
# Does nothing, quickly, when all is there already.

# What Qt needs to open a window, what shows text, and the virtual screen that one test uses.
system_packages=(
    python3-venv libglib2.0-0 libgl1 libegl1 libxkbcommon0 libxkbcommon-x11-0 libdbus-1-3 libfontconfig1 libxcb-cursor0 libxcb-icccm4
    libxcb-image0 libxcb-keysyms1 libxcb-randr0 libxcb-render-util0 libxcb-shape0 libxcb-xinerama0 libxcb-xkb1
    fonts-dejavu-core xvfb xauth xdotool
)

# What the tests of pages are driven in.
browser_packages=(chromium chromium-driver)

# For a Python of the system; any other brings its own headers.
compiler_packages=(gcc libc6-dev python3-dev)

is_installed() {
    dpkg-query -W -f='${Status}' "$1" 2>/dev/null | grep -q "ok installed"
}

missing_packages() {
    local package
    for package in "${system_packages[@]}"; do
        is_installed "$package" || is_installed "${package}t64" || echo "$package" # as later systems call some of them
    done
}

install_packages() {
    local missing as_root=()
    if [ "$(id -u)" -ne 0 ] && ! sudo -n true 2>/dev/null; then
        : # nothing is asked of a person for a compiler, or a browser
    else
        has_compiler || system_packages+=("${compiler_packages[@]}")
        [ -z "${drives_browser:-}" ] || command -v chromedriver >/dev/null || system_packages+=("${browser_packages[@]}")
    fi
    mapfile -t missing < <(missing_packages)
    [ ${#missing[@]} -eq 0 ] && return
    if ! command -v apt-get >/dev/null; then
        echo "Eelgrass needs the system libraries that Debian calls: ${missing[*]}" >&2
        return
    fi
    if [ "$(id -u)" -ne 0 ]; then
        if ! sudo -n true 2>/dev/null; then
            echo "Please have these packages installed, then start again: sudo apt-get install ${missing[*]}" >&2
            exit 1
        fi
        as_root=(sudo)
    fi
    echo "Installing system libraries: ${missing[*]}"
    "${as_root[@]}" apt-get update -qq
    DEBIAN_FRONTEND=noninteractive "${as_root[@]}" apt-get install -y -qq "${missing[@]}" >/dev/null
}

has_compiler() {
    command -v cc >/dev/null && "$(find_python)" -c '
import os, sys, sysconfig
sys.exit(not os.path.exists(os.path.join(sysconfig.get_paths()["include"], "Python.h")))'
}

# The versions with which Eelgrass is tested.
versions=(3.11 3.12 3.13 3.14)

is_supported() {
    "$1" -c 'import sys; sys.exit(sys.implementation.name != "cpython" or sys.version_info < (3, 11))' 2>/dev/null
}

# What Eelgrass itself runs with: the machine's own Python where that will do.
find_python() {
    local candidate
    for candidate in python3 "${versions[@]/#/python}"; do
        if command -v "$candidate" >/dev/null && is_supported "$candidate"; then
            echo "$candidate"
            return
        fi
    done
    echo "Eelgrass needs Python 3.11 or later, which is not here." >&2
    exit 1
}

# A Python of one version: one that can make environments, or that of an environment for the core that stands.
python_of() {
    local place
    if [ -x ".venv/core-$1/bin/python" ]; then
        echo "$PWD/.venv/core-$1/bin/python"
        return
    fi
    for place in /usr/bin /usr/local/bin /opt/*/bin "$HOME"/.pyenv/versions/*/bin; do
        if [ -x "$place/python$1" ] && "$place/python$1" -c 'import ensurepip' 2>/dev/null; then
            echo "$place/python$1"
            return
        fi
    done
}

make_environment() {
    local stamp=.venv/eelgrass.stamp
    [ -f "$stamp" ] && [ ! pyproject.toml -nt "$stamp" ] && return
    echo "Setting up .venv"
    [ -x .venv/bin/python ] || "$(find_python)" -m venv .venv
    EELGRASS_HOOKS=plain .venv/bin/python -m pip install --quiet --disable-pip-version-check --editable '.[test]'
    touch "$stamp"
}

# What the core needs, and its tests: everything but Qt.
core_requirements() {
    .venv/bin/python - <<'END'
import tomllib
with open("pyproject.toml", "rb") as file:
    project = tomllib.load(file)["project"]
tools = ("pytest", "pytest-xdist", "hypothesis", "jsonschema", "pandas", "selenium", "html5lib", "distributed")
wanted = [its for its in project["dependencies"] if not its.startswith("PyQt6")]
wanted += [its for its in project["optional-dependencies"]["test"] if its.partition(">")[0] in tools]
print("\n".join(wanted))
END
}

# An environment without Qt at a place, by a Python.
make_core_environment() {
    local place=$1 python=$2
    [ -f "$place.stamp" ] && [ ! pyproject.toml -nt "$place.stamp" ] && return
    echo "Setting up $place, without Qt"
    [ -x "$place/bin/python" ] || "$python" -m venv "$place"
    { core_requirements; printf 'cython\nsetuptools\n'; } | "$place/bin/python" -m pip install --quiet --disable-pip-version-check -r /dev/stdin
    EELGRASS_HOOKS=plain "$place/bin/python" -m pip install --quiet --disable-pip-version-check --no-deps --editable .
    touch "$place.stamp"
}

# The recorder's hooks for a Python, compiled anew when a source has changed. Where that cannot be they run as they are,
# slower. Those for each version lie side by side.
compile_hooks() {
    local interpreter=$1 stamp log suffix newer
    suffix=$("$interpreter" -c 'import importlib.machinery; print(importlib.machinery.EXTENSION_SUFFIXES[0])')
    stamp=.venv/compiled$suffix.stamp log=build/compiling$suffix.log
    newer=$(find src/eelgrass/recorder setup.py -newer "$stamp" \( -name '*.py' -o -name '*.pyx' -o -name '*.pxd' \) 2>/dev/null || echo all)
    [ -f "$stamp" ] && [ -z "$newer" ] && return
    echo "Compiling the recorder's hooks${2:-}"
    # The headers of a Python from another root (./bench pythons) lead to others there.
    if [ -d build/unstable ]; then local -x CFLAGS="-idirafter $PWD/build/unstable/usr/include"; fi
    find src/eelgrass/recorder -name "*$suffix" -delete
    if "$interpreter" -W ignore setup.py --quiet build_ext --inplace --parallel 2 >"$log" 2>&1; then
        touch "$stamp"
        return
    fi
    echo "They cannot be compiled here ($log), and will run as they are." >&2
    if has_compiler; then cannot_compile=yes; else touch "$stamp"; fi
}

# What the child imports, as bytecode: it may not write its own, and would compile it anew for every run.
compile_bytecode() {
    "$1" -m compileall -q src/eelgrass
}

command -v dpkg-query >/dev/null && install_packages
make_environment
mkdir -p build
cannot_compile=
compile_hooks .venv/bin/python
compile_bytecode .venv/bin/python
