"""`python -m eelgrass.cli` is the command `eelgrass`."""

from eelgrass.cli.main import main

main(prog_name="eelgrass")
