"""Fetch the front-end packages by name from the npm registry and keep the few files we ship.

Run `python tools/vendor_assets.py` with `npm` and `fonttools` (with brotli) on the PATH; it remakes
`web/static/vendor/` and its manifest. A font is cut to the range that the styles use: half the bytes, no letter less.
"""

import hashlib
import json
import subprocess
import tarfile
import tempfile
from pathlib import Path

VENDOR = Path(__file__).parents[1] / "src/chirotend/web/static/vendor"
PACKAGES: dict[str, list[str]] = {
    "bootstrap@5.3.9": ["dist/css/bootstrap.min.css"],
    "htmx.org@2.0.11": ["dist/htmx.min.js"],
    "@fontsource-variable/atkinson-hyperlegible-next@5.3.0": [
        "files/atkinson-hyperlegible-next-latin-wght-normal.woff2",
    ],
    "@fontsource-variable/literata@5.3.0": [
        "files/literata-latin-standard-normal.woff2",
        "files/literata-latin-standard-italic.woff2",
    ],
}
#: the axes of a variable font that the styles use
USED_AXES = {"literata": ("wght=400:800", "opsz=12:72")}


def main() -> None:
    VENDOR.mkdir(parents=True, exist_ok=True)
    manifest = []
    for spec, wanted in PACKAGES.items():
        with tempfile.TemporaryDirectory() as folder:
            subprocess.run(["npm", "pack", "--silent", spec], cwd=folder, check=True, capture_output=True)
            with tarfile.open(next(Path(folder).glob("*.tgz"))) as tar:
                licence = json.loads(_read(tar, "package.json"))["license"]
                name, version = spec.rsplit("@", 1)
                for inner in wanted:
                    body = _read(tar, inner).replace(b"\n/*# sourceMappingURL=bootstrap.min.css.map */", b"")
                    target = VENDOR / Path(inner).name
                    target.write_bytes(body)
                    if axes := USED_AXES.get(name.rsplit("/", 1)[-1]):
                        body = _cut(target, axes)
                    manifest.append(
                        {
                            "file": target.name,
                            "package": name,
                            "version": version,
                            "licence": licence,
                            "sha256": hashlib.sha256(body).hexdigest(),
                        }
                    )
                (VENDOR / f"LICENCE.{name.split('/')[-1]}").write_bytes(_read(tar, "LICENSE"))
    (VENDOR / "manifest.json").write_text(json.dumps(manifest, indent=1) + "\n")


def _read(tar: tarfile.TarFile, inner: str) -> bytes:
    member = tar.extractfile(f"package/{inner}")
    if member is None:
        raise FileNotFoundError(inner)
    return member.read()


def _cut(font: Path, axes: tuple[str, ...]) -> bytes:
    """Cut a font to `axes`, with every letter and feature it has."""
    with tempfile.TemporaryDirectory() as folder:
        part = Path(folder) / "part.ttf"
        still = "--no-recalc-timestamp"
        subprocess.run(["fonttools", "varLib.instancer", font, *axes, "-o", part, "-q", still], check=True)
        whole = ["--unicodes=*", "--layout-features=*", "--no-hinting", "--flavor=woff2"]
        subprocess.run(["pyftsubset", part, *whole, still, f"--output-file={font}"], check=True)
    return font.read_bytes()


if __name__ == "__main__":
    main()
