"""The command `eelgrass doctor`."""

from __future__ import annotations

import click

from eelgrass.cli.common import write


@click.command()
def doctor() -> None:
    """Say what this machine can do for Eelgrass, each thing tried.

    Exit status 1 when programs cannot be kept from your files and the network.
    """
    from eelgrass.runs import confinement
    from eelgrass.runs.child.child_process import speed_of_recording

    write([f"recording: {speed_of_recording()}\n"])
    for layer in confinement.LAYERS:
        trouble = confinement.trouble_with(layer)
        told = f"not here ({trouble}): {confinement.WHAT_FOR[layer]}" if trouble else "holds"
        write([f"confinement, {layer}: {told}\n"])
    missing = confinement.missing_words()
    write([f"{missing or 'Programs of strangers are kept to their own folder.'}\n"])
    click.get_current_context().exit(0 if confinement.is_confining() else 1)
