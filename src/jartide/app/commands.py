"""The commands of the command line that open the window, or put its entry into the menu."""

from __future__ import annotations

import argparse
import sys

from jartide.app.main import run_app
from jartide.store.menu_entry import command_line, data_folder, install_desktop, remove_desktop
from jartide.wording import tr


def open_window(arguments: argparse.Namespace) -> int:
    """Open the window, or put the menu entry in its place."""
    if arguments.install_desktop or arguments.remove_desktop:
        return _menu_entry(remove=arguments.remove_desktop)
    return run_app(arguments.workspace)


def _menu_entry(remove: bool) -> int:
    folder = data_folder()
    if remove:
        places = remove_desktop(folder)
    else:
        places = install_desktop(folder, command_line())
    for place in places:
        print(place)
    said = "cli.desktop_removed" if remove else "cli.desktop_installed"
    print(tr(said, folder=folder), file=sys.stderr)
    return 0


def open_demo(arguments: argparse.Namespace) -> int:
    """Open the window on the demo job."""
    return run_app(arguments.workspace, demo=True)
