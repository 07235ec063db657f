"""Prints how much of each project its tests reach, from the Cobertura files of a test run: coverage.py FOLDER [PROJECT...].

Lines that any test project reaches count once, whichever file tells of them.
"""

import collections
import pathlib
import sys
import xml.etree.ElementTree as ElementTree

lines = collections.defaultdict(dict)
for file in pathlib.Path(sys.argv[1]).rglob("*.cobertura.xml"):
    for package in ElementTree.parse(file).getroot().iter("package"):
        for part in package.iter("class"):
            for line in part.iter("line"):
                place = (part.get("filename"), int(line.get("number")))
                known = lines[package.get("name")]
                known[place] = known.get(place, False) or int(line.get("hits")) > 0
wanted = sys.argv[2:] or [name for name in lines if "JadeOrchard" in name and not name.endswith("Tests")]
for name in sorted(name for name in wanted if name in lines):
    reached, known = sum(lines[name].values()), len(lines[name])
    print(f"{name:28} {100 * reached / known:5.1f} % of {known:,} lines")
