"""Programs of strangers reach nothing but their own folder: as this user and as one without rights, and with each layer
switched off what the others hold."""

from __future__ import annotations

import os

import pytest
from support.hostile import ENDLESS, programs, python_for_nobody, reached, report

from eelgrass.runs import confinement

#: As an administrator, processes are not counted by the kernel: so many are nothing to try at home.
_NOT_AS_ROOT = ("forks_on", "many_threads")
_AS_THIS_USER = [name for name in programs() if os.getuid() or name not in _NOT_AS_ROOT]
#: What each layer holds alone: without it, these reach something (and no others do).
_ONLY = {
    "filter": ("hidden_calls", "limits_others", "mounts", "raw_sockets"),
    "landlock": (),
    "namespaces": (),
}

confined = pytest.mark.skipif(not confinement.is_confining(), reason=confinement.missing_words())


@confined
@pytest.mark.parametrize("name", _AS_THIS_USER)
def test_it_reaches_nothing(name: str) -> None:
    told = report(name)
    assert reached(told) == {}
    assert told["peak_mib"] < 1024
    if name in ENDLESS:
        assert told["outcome"][0] == "stopped"
    if name == "aborts":
        assert told["steps"] > 3, "what was recorded is kept"
    if name == "writes_original" and "namespaces" in confinement.layers():
        assert "data.txt" in told["written"], "it wrote to its copy"


@confined
@pytest.mark.skipif(not python_for_nobody(), reason="there is no way to be another user here")
@pytest.mark.parametrize(
    "name", ["forks_on", "many_threads", "outlives", "reads_home", "writes_system", "traces_others"]
)
def test_it_reaches_nothing_as_a_user_without_rights(name: str) -> None:
    assert reached(report(name, as_nobody=True)) == {}


@confined
@pytest.mark.skipif(len(confinement.layers()) < 4, reason="this machine has not got all layers")
@pytest.mark.parametrize("layer", _ONLY)
@pytest.mark.parametrize(
    "name", ["hidden_calls", "mounts", "reads_home", "connects_tcp", "changes_modes", "raw_sockets"]
)
def test_without_a_layer_the_others_hold(layer: str, name: str) -> None:
    others = ",".join(its for its in confinement.LAYERS if its != layer)
    assert bool(reached(report(name, others))) == (name in _ONLY[layer])
