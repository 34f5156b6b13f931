"""The folders are the architecture: what may import what."""

from __future__ import annotations

import ast
import re
import subprocess
import sys
from pathlib import Path

import pytest

import jartide
from jartide.wording import known_ids, languages

SOURCE = Path(jartide.__file__).parent
# Each package may import only those before it.
ORDER = (
    "colour",
    "families",
    "measures",
    "devices",
    "photo",
    "reading",
    "paint",
    "plan",
    "boards",
    "studio",
    "store",
    "sheet",
    "job",
    "app",
)


def modules():
    return sorted(p for p in SOURCE.rglob("*.py"))


def test_stages_import_no_qt():
    """Every stage must run where Qt is not installed."""
    code = (
        "import pkgutil, importlib, sys, jartide as j\n"
        "for m in pkgutil.walk_packages(j.__path__, 'jartide.'):\n"
        "    m.name.startswith(('jartide.app', 'jartide.__main__'))"
        " or importlib.import_module(m.name)\n"
        "sys.exit(any(n.startswith('PySide6') for n in sys.modules))"
    )
    assert subprocess.run([sys.executable, "-c", code]).returncode == 0


def test_packages_import_only_earlier_packages():
    wrong = []
    for path in modules():
        own = path.relative_to(SOURCE).parts[0]
        if own not in ORDER:
            continue
        for name in re.findall(r"from jartide\.(\w+)", path.read_text(encoding="utf-8")):
            if name in ORDER and ORDER.index(name) > ORDER.index(own):
                wrong.append(f"{path.name} imports {name}")
    assert not wrong


def test_the_window_is_shown_before_anything_heavy_is_imported():
    code = (
        "import sys, jartide.app.window\n"
        "heavy = {'numpy', 'scipy', 'cv2', 'sqlalchemy', 'skimage', 'PIL'} & set(sys.modules)\n"
        "sys.exit(' '.join(heavy) or 0)"
    )
    found = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True)
    assert found.returncode == 0, found.stderr


# So many of our modules may be imported before the window stands.
MOST_MODULES = 45


def test_the_window_stands_on_few_modules():
    code = (
        "import sys\n"
        "from jartide.app.main import make_application\n"
        "from jartide.app.window import MainWindow\n"
        "application = make_application()\n"
        "window = MainWindow()\n"
        "window.show()\n"
        "application.processEvents()\n"
        "print(sum(name.partition('.')[0] == 'jartide' for name in sys.modules))"
    )
    found = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True)
    assert int(found.stdout) <= MOST_MODULES


def imports_of(path):
    """Yield (module named, whether inside a function) for every import of our own in a file."""
    tree = ast.parse(path.read_text("utf-8"))
    functions = [n for n in ast.walk(tree) if isinstance(n, ast.FunctionDef | ast.AsyncFunctionDef)]
    inside = {id(n) for function in functions for n in ast.walk(function)}
    for node in ast.walk(tree):
        if isinstance(node, ast.ImportFrom) and node.module:
            yield node, node.module, [alias.name for alias in node.names], id(node) in inside
        elif isinstance(node, ast.Import):
            for alias in node.names:
                yield node, alias.name, [], id(node) in inside


# What is heavy and seldom needed, or needs what the window stands without; each says why.
LATE = {"rawpy", "pillow_heif", "tifffile", "babel.numbers", "jartide.store.migrate"}
AFTER_THE_WINDOW = {
    "jartide.app.arrivals",
    "jartide.app.due_watch",
    "jartide.app.glance_view",
    "jartide.app.guide",
    "jartide.app.incoming",
    "jartide.app.place_watch",
    "jartide.app.stations.boards.row_page",
}


def test_imports_stand_at_the_top():
    late = [
        f"{path.name}: {module}"
        for path in modules()
        for _, module, _, inside in imports_of(path)
        if inside and module not in LATE | AFTER_THE_WINDOW
    ]
    assert not late


def test_no_import_goes_round_in_a_circle():
    """Imports for types alone count as well: what needs each other is one thing."""
    names = {}
    for path in modules():
        parts = ("jartide", *path.relative_to(SOURCE).with_suffix("").parts)
        names[".".join(parts).removesuffix(".__init__")] = path
    imported = {}
    for name, path in names.items():
        found = set()
        for _, module, taken, _ in imports_of(path):
            found |= {f"{module}.{one}" if f"{module}.{one}" in names else module for one in taken}
            found.add(module)
        imported[name] = (found & set(names)) - {name, "jartide"}
    left = dict(imported)
    while True:
        # What imports nothing that is left can be in no circle.
        free = [name for name, found in left.items() if not found & set(left)]
        if not free:
            break
        for name in free:
            del left[name]
    assert not left


def test_every_module_says_what_it_is():
    silent = [p for p in modules() if not ast.get_docstring(ast.parse(p.read_text("utf-8")))]
    assert not silent


def literal_ids():
    """Every message id that stands in the code, `{}` for a part filled in at run time."""
    pattern = re.compile(
        r'(?:tr|Message|unknown|\w*Error)\(\s*(?:f?"([a-z_]+(?:\.[A-Za-z_{}.\'\[\]]+)+)")'
    )
    for path in modules():
        for found in pattern.findall(path.read_text(encoding="utf-8")):
            yield path.name, re.sub(r"\{[^}]*\}", "{}", found)


def test_every_message_has_words():
    known = known_ids()
    missing = []
    for where, used in literal_ids():
        pattern = re.compile(re.escape(used).replace(r"\{\}", ".+"))
        if not any(pattern.fullmatch(one) for one in known):
            missing.append(f"{where}: {used}")
    assert not missing


def _first(id):
    return id[0] if isinstance(id, tuple | list) else id


@pytest.mark.parametrize("language", languages())
def test_compiled_catalogue_is_current(language):
    from babel.messages.mofile import read_mo
    from babel.messages.pofile import read_po

    folder = SOURCE / "data/locale" / language / "LC_MESSAGES"
    with open(folder / "jartide.po", "rb") as po, open(folder / "jartide.mo", "rb") as mo:
        words = {
            _first(m.id): list([m.string] if isinstance(m.string, str) else m.string)
            for m in read_po(po)
            if m.id
        }
        compiled = {
            _first(m.id): list([m.string] if isinstance(m.string, str) else m.string)
            for m in read_mo(mo)
            if m.id
        }
    assert words == compiled
