"""What runs in the child process: weaving hooks into a program, running it, writing what happens.

Standard library only, and nothing else of Eelgrass: a learner's program shares its process with this package.
"""

import os
import sys

if os.environ.get("EELGRASS_HOOKS") == "plain":
    # Modules that were compiled are passed over, and run from their sources.
    from importlib.machinery import SOURCE_SUFFIXES, FileFinder, SourceFileLoader

    for _inside in ("", "/hooks", "/hooks/objects", "/hooks/changes", "/process"):
        _folder = os.path.dirname(__file__) + _inside
        sys.path_importer_cache[_folder] = FileFinder(_folder, (SourceFileLoader, SOURCE_SUFFIXES))
