#!/bin/sh
# Make the Debian package: the self-contained folder, menu entry, icon, manual page and completion.
#     sh packaging/make_deb.sh PYTHON_BIN_FOLDER OUTPUT_FOLDER
set -eu
bin=$(cd "$1" && pwd)
mkdir -p "$2"
out=$(cd "$2" && pwd)
cd "$(dirname "$0")/.."
share=src/jartide/data/share
version=$("$bin/python" -c 'import jartide; print(jartide.__version__)')
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT

"$bin/pyinstaller" --noconfirm --log-level ERROR \
    --distpath "$work/dist" --workpath "$work/build" packaging/jar-tide.spec

root="$work/root"
put() { install -D -m 644 "$1" "$root/usr/share/$2"; }
install -d -m 755 "$root/usr/lib" "$root/usr/bin" "$root/DEBIAN"
mv "$work/dist/jar-tide" "$root/usr/lib/jar-tide"
ln -s ../lib/jar-tide/jar-tide "$root/usr/bin/jar-tide"
put "$share/jar-tide.desktop" applications/jar-tide.desktop
put "$share/jar-tide.svg" icons/hicolor/scalable/apps/jar-tide.svg
put "$share/jar-tide.metainfo.xml" metainfo/jar-tide.metainfo.xml
put "$share/jar-tide.bash" bash-completion/completions/jar-tide
put "$share/jar-tide.zsh" zsh/vendor-completions/_jar-tide
put LICENSE doc/jar-tide/copyright
put "$share/jar-tide.1" man/man1/jar-tide.1
gzip -9n "$root/usr/share/man/man1/jar-tide.1"
chmod -R u+rwX,go+rX,go-w "$root"

cat > "$root/DEBIAN/control" <<CONTROL
Package: jar-tide
Version: $version
Architecture: $(dpkg --print-architecture)
Maintainer: The Jar Tide founders <founders@jar-tide.invalid>
Installed-Size: $(du -sk "$root/usr" | cut -f1)
Depends: libc6, libegl1, libgl1, libxkbcommon0, libxkbcommon-x11-0, libdbus-1-3, libfontconfig1, libxcb-cursor0, libxcb-icccm4, libxcb-keysyms1, libxcb-image0, libxcb-render-util0, libxcb-shape0, libxcb-xinerama0, libxcb-xkb1, libxcb-randr0, libcups2 | libcups2t64
Section: graphics
Priority: optional
Description: read reference photos and bring test boards closer to them
 For decorative painters who imitate marble, stone, concrete, rust, verdigris,
 bronze, wood grain, linen or leather: squares and scales a photo of the real
 thing, tells its layers, their colours and the pattern's size, finds mixes from
 the paints there are, plans the steps and compares test boards with the target.
CONTROL
dpkg-deb --root-owner-group -Zzstd -z9 --build "$root" "$out/jar-tide_${version}_$(dpkg --print-architecture).deb" >/dev/null
echo "$out/jar-tide_${version}_$(dpkg --print-architecture).deb"
