"""What a desktop is told of Eelgrass."""

from __future__ import annotations

import configparser
import subprocess
import sys
from pathlib import Path
from xml.etree import ElementTree


def _asked(*given: str) -> subprocess.CompletedProcess[str]:
    command = [sys.executable, "-m", "eelgrass.cli", "desktop-entry", *given]
    return subprocess.run(command, capture_output=True, text=True, check=False)


def test_the_desktop_knows_eelgrass_until_it_is_taken_away(tmp_path: Path) -> None:
    assert _asked("--install", "--data", str(tmp_path)).returncode == 0
    entry = configparser.ConfigParser(interpolation=None)
    entry.read(tmp_path / "applications" / "eelgrass.desktop")
    its = entry["Desktop Entry"]
    assert Path(its["TryExec"]).is_file()
    assert its["Exec"] == f"{its['TryExec']} open %f"
    kinds = ElementTree.parse(tmp_path / "mime" / "packages" / "eelgrass.xml").getroot()
    told = {kind.get("type") for kind in kinds}
    assert told <= {*its["MimeType"].split(";")}
    icons = {path.stem for path in (tmp_path / "icons").rglob("*.svg")}
    assert icons == {its["Icon"], *(icon.get("name") for icon in kinds.iter() if icon.tag.endswith("}icon"))}
    manual = (tmp_path / "man" / "man1" / "eelgrass.1").read_text()
    assert "@" not in manual
    assert _asked("--remove", "--data", str(tmp_path)).returncode == 0
    assert [path for path in tmp_path.rglob("eelgrass*") if path.is_file()] == []
    assert _asked().returncode == 2
