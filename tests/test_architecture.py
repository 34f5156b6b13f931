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
