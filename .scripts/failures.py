#!/usr/bin/env python3
"""Names the tests that did not pass, with the beginning of what each said.

usage: failures.py RESULTS.trx...
"""
import sys
import xml.etree.ElementTree as xml

TEAM = "{http://microsoft.com/schemas/VisualStudio/TeamTest/2010}"

for path in sys.argv[1:]:
    for result in xml.parse(path).iter(TEAM + "UnitTestResult"):
        if result.get("outcome") != "Passed":
            said = result.findtext(f"{TEAM}Output/{TEAM}ErrorInfo/{TEAM}Message") or ""
            print(result.get("testName"), *said.splitlines()[:12], sep="\n    ")
