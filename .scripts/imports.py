"""Fails for C# files whose usings are not in order: those of System first, static ones and aliases last, each by name.

The compiler finds usings that nobody needs, but does not look at their order.
"""
import pathlib
import re
import sys

USING = re.compile(r"^(using (?:static )?[\w.]+(?: = [^;]+)?);$", re.MULTILINE)


def place(using: str) -> tuple[int, int, str]:
    kind = 2 if "=" in using else 1 if using.startswith("using static ") else 0
    return kind, 0 if re.match(r"using (static )?System\b", using) else 1, using.lower()


wrong = 0
for folder in ("src", "tests", "bench"):
    for file in sorted(pathlib.Path(folder).rglob("*.cs")):
        usings = USING.findall(file.read_text(encoding="utf-8"))
        if "obj" not in file.parts and usings != sorted(usings, key=place):
            print(f"{file}: the usings are not in order.")
            wrong += 1
sys.exit(1 if wrong else 0)
