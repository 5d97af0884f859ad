"""A real browser without a screen, without a network."""

from __future__ import annotations

import shutil
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from selenium import webdriver
from selenium.webdriver.chrome.options import Options
from selenium.webdriver.chrome.service import Service

CHROMIUM, DRIVER = shutil.which("chromium"), shutil.which("chromedriver")


@contextmanager
def browser(profile: Path, width: int = 1280, height: int = 800, is_dark: bool = False) -> Iterator[webdriver.Chrome]:
    """A browser in which no name of a machine is found; what a page's console says can be asked for."""
    options = Options()
    options.binary_location = CHROMIUM or ""
    options.set_capability("goog:loggingPrefs", {"browser": "ALL", "performance": "ALL"})
    for argument in (
        "--headless=new",
        "--no-sandbox",
        "--disable-gpu",
        "--disable-dev-shm-usage",
        "--no-first-run",
        "--disable-background-networking",
        "--host-resolver-rules=MAP * ~NOTFOUND",
        f"--user-data-dir={profile}",
        f"--window-size={width},{height}",
        *(("--force-dark-mode", "--blink-settings=preferredColorScheme=0") if is_dark else ()),
    ):
        options.add_argument(argument)
    driver = webdriver.Chrome(options, Service(DRIVER))
    try:
        driver.execute_cdp_cmd(
            "Emulation.setDeviceMetricsOverride",
            {"width": width, "height": height, "deviceScaleFactor": 1, "mobile": width < 600},
        )
        yield driver
    finally:
        driver.quit()
