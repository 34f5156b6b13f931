# Makes the self-contained folder that the Debian package installs: the application with
# its own Python and libraries.     pyinstaller packaging/jar-tide.spec
from PyInstaller.utils.hooks import collect_data_files, collect_submodules

# Tests and drawing tools of the libraries, and what only developers use.
NOT_NEEDED = [
    "tkinter", "matplotlib", "pandas", "IPython", "pytest", "_pytest", "hypothesis", "colour",
    "sklearn", "mypy", "fontTools", "jsonschema", "setuptools", "pkg_resources",
    "sqlalchemy.testing", "numpy.tests", "numpy.f2py.tests",
]

analysis = Analysis(
    ["../src/jartide/__main__.py"],
    pathex=["../src"],
    # Heavy modules are imported by what needs them: take them all, seen or not.
    hiddenimports=collect_submodules("jartide"),
    datas=collect_data_files("jartide"),
    excludes=NOT_NEEDED,
)
archive = PYZ(analysis.pure)
program = EXE(archive, analysis.scripts, exclude_binaries=True, name="jar-tide")
COLLECT(program, analysis.binaries, analysis.datas, name="jar-tide")
