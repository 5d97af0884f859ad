#!/usr/bin/env bash
# Makes a package for Debian: ./scripts/make_deb.sh [OUTDIR]. It holds Eelgrass with all Python packages that it needs, below
# /opt/eelgrass, for the system's own Python of the version with which it is made; hooks are compiled here. As root, since a
# Python environment works only where it was made.
set -euo pipefail
cd "$(dirname "$0")/.."
out=$(realpath "${1:-build}")
if [ "$(id -u)" -ne 0 ] || [ -e /opt/eelgrass ]; then
    echo "This has to be run as root, on a machine without /opt/eelgrass: the package is made there." >&2
    exit 1
fi
root=$(mktemp -d)
trap 'rm -rf "$root" /opt/eelgrass' EXIT
/usr/bin/python3 -m venv /opt/eelgrass
/opt/eelgrass/bin/pip install --quiet --disable-pip-version-check --no-compile .
/opt/eelgrass/bin/pip uninstall --quiet --yes pip setuptools
find /opt/eelgrass -name __pycache__ -prune -exec rm -r {} +
version=$(/opt/eelgrass/bin/eelgrass --version | awk '{print $2}')
mkdir -p "$root"/{DEBIAN,opt,usr/bin,usr/share}
cp -a /opt/eelgrass "$root/opt/"
ln -s /opt/eelgrass/bin/eelgrass "$root/usr/bin/eelgrass"
/opt/eelgrass/bin/eelgrass desktop-entry --install --data "$root/usr/share" >/dev/null
find "$root/usr/share" -type f ! -name 'eelgrass*' -delete # the desktop's own indexes, which the system makes itself
find "$root/usr/share" -type d -empty -delete
sed -i 's#/opt/eelgrass/bin/eelgrass#/usr/bin/eelgrass#' "$root/usr/share/applications/eelgrass.desktop"
gzip -9n "$root/usr/share/man/man1/eelgrass.1"
series=$(/usr/bin/python3 -c 'import sys; print("%d.%d" % sys.version_info[:2])') next=$(/usr/bin/python3 -c 'import sys; print("%d.%d~" % (sys.version_info[0], sys.version_info[1] + 1))')
cat >"$root/DEBIAN/control" <<END
Package: eelgrass
Version: $version
Architecture: $(dpkg --print-architecture)
Maintainer: Bay of Linnet field station <station@linnet.invalid>
Installed-Size: $(du -sk "$root" | cut -f1)
Depends: python3 (>= $series), python3 (<< $next), libglib2.0-0 | libglib2.0-0t64, libgl1, libegl1, libxkbcommon0, libxkbcommon-x11-0, libdbus-1-3,
 libfontconfig1, libxcb-cursor0, libxcb-icccm4, libxcb-image0, libxcb-keysyms1, libxcb-randr0, libxcb-render-util0,
 libxcb-shape0, libxcb-xinerama0, libxcb-xkb1, fonts-dejavu-core
Section: education
Priority: optional
Description: step through the whole run of a small program, with a class
 Eelgrass records a Python program's whole run and shows how variables, scopes
 and call frames change line by line, forward and back.
END
cat >"$root/DEBIAN/postinst" <<END
#!/bin/sh
set -e
[ "\$1" != configure ] || /opt/eelgrass/bin/python -m compileall -q /opt/eelgrass/lib || true # or each run compiles it
END
cat >"$root/DEBIAN/postrm" <<END
#!/bin/sh
set -e
[ "\$1" = upgrade ] || rm -rf /opt/eelgrass # what Python wrote there
END
chmod 755 "$root"/DEBIAN/post*
mkdir -p "$out"
dpkg-deb --root-owner-group --build "$root" "$out/eelgrass_${version}_$(dpkg --print-architecture).deb"
