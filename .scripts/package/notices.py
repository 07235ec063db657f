"""Writes NOTICES.txt and sbom.json (CycloneDX 1.6) of what is included in a package: notices.py SOURCES WEB VERSION FOLDER BILL...

What is included is read from what the build resolved: the assets of the .NET projects with their runtime packs, and the packages of the
front end that it does not need for development alone. The bills are those of CycloneDX's tools.
"""
import json
import os
import pathlib
import re
import sys
import xml.etree.ElementTree as xml

import sbom

sources, web, version, folder = pathlib.Path(sys.argv[1]), pathlib.Path(sys.argv[2]), sys.argv[3], pathlib.Path(sys.argv[4])
packages = pathlib.Path(os.environ.get('NUGET_PACKAGES') or pathlib.Path.home() / '.nuget' / 'packages')
NAMES = re.compile(r'^(licen[cs]e|notice|third-?party-?notices?|copying)', re.IGNORECASE)


def texts(at):
    """The texts of licences and notices in a folder."""
    found = sorted(f for f in at.iterdir() if f.is_file() and NAMES.match(f.name)) if at.is_dir() else []
    return [f.read_text(encoding='utf-8-sig', errors='replace').strip() for f in found]


def nuget(name, number):
    at = packages / name.lower() / number
    spec = next(at.glob('*.nuspec'), None)
    licence, link = '', ''
    if spec is not None:
        for node in xml.parse(spec).getroot().iter():
            tag = node.tag.split('}')[-1]
            if tag == 'license' and node.get('type') == 'expression':
                licence = node.text or ''
            if tag == 'licenseUrl' and 'deprecate' not in (node.text or ''):
                link = node.text or ''
            if tag == 'projectUrl' and not link:
                link = node.text or ''
    return {'name': name, 'version': number, 'licence': licence, 'link': link, 'texts': texts(at), 'purl': f'pkg:nuget/{name}@{number}'}


def included_nuget():
    found = {}
    for project in ('JadeOrchard.Server', 'JadeOrchard.Cli', 'JadeOrchard.StandIns'):
        assets = json.loads((sources / 'src' / project / 'obj' / 'project.assets.json').read_text())
        target = next(t for name, t in assets['targets'].items() if name.endswith('/linux-x64'))
        for key, library in target.items():
            name, number = key.split('/')
            # What has nothing to run is for the build alone.
            if library['type'] == 'package' and any(not f.endswith('/_._') for part in ('runtime', 'native') for f in library.get(part, {})):
                found[key] = nuget(name, number)
        for framework in assets['project']['frameworks'].values():
            for pack in framework.get('downloadDependencies', []):
                if '.Runtime.linux-x64' in pack['name']:
                    number = pack['version'].strip('[]').split(',')[0].strip()
                    found[f"{pack['name']}/{number}"] = nuget(pack['name'], number)
    return [found[key] for key in sorted(found, key=str.lower)]


def included_npm():
    lock = json.loads((sources / 'web' / 'package-lock.json').read_text())
    found = []
    for path, entry in sorted(lock['packages'].items()):
        if not path or entry.get('dev') or entry.get('optional') or entry.get('peer'):
            continue
        at = web / path
        if not at.is_dir():
            continue
        name = path.split('node_modules/')[-1]
        described = json.loads((at / 'package.json').read_text())
        licence = described.get('license') or ''
        found.append({
            'name': name, 'version': entry['version'], 'licence': licence if isinstance(licence, str) else licence.get('type', ''),
            'link': described.get('homepage') or '', 'texts': texts(at), 'purl': f"pkg:npm/{name.replace('@', '%40')}@{entry['version']}",
        })
    return found


parts = included_nuget() + included_npm()
without = [p['name'] for p in parts if not p['licence'] and not p['texts'] and not p['link']]
if without:
    sys.exit(f"No licence is known of: {', '.join(without)}")

lines = [f'Jade Orchard {version} includes the following. Its own licence is in LICENSE.', '']
for part in parts:
    lines.append(f"{part['name']} {part['version']}" + (f", {part['licence']}" if part['licence'] else '') + (f", {part['link']}" if part['link'] else ''))
# The same text is often that of many.
groups = {}
for part in parts:
    for text in part['texts']:
        groups.setdefault(text, []).append(f"{part['name']} {part['version']}")
for text, names in groups.items():
    lines += ['', '-' * 78, ', '.join(sorted(set(names))), '', text]
(folder / 'NOTICES.txt').write_text('\n'.join(lines) + '\n')

sbom.write(parts, [pathlib.Path(bill) for bill in sys.argv[5:]], version, folder / 'sbom.json')
print(f'{len(parts)} parts, {len(groups)} texts of licences')
