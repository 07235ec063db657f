"""Puts the bills of materials that CycloneDX's tools write of the .NET projects and of the front end together, as CycloneDX 1.6, for what a package includes."""
import json

# What comes with a self-contained program, which the tools do not look at.
RUNTIMES = ('Microsoft.NETCore.App.Runtime.', 'Microsoft.AspNetCore.App.Runtime.', 'Microsoft.NETCore.App.Host.')


def write(parts, bills, version, to):
    """Writes a bill of the parts (each with name, version, purl and licence) out of the bills (as files) that describe them, and perhaps more."""
    components, leads, roots, tools = {}, {}, set(), {}
    for bill in (json.loads(file.read_text()) for file in bills):
        purl_of = {c['bom-ref']: c['purl'] for c in bill['components'] if 'purl' in c}
        for component in bill['components']:
            # The same package is in several bills; paths are of the machine that built it.
            components.setdefault(component.get('purl'), {key: value for key, value in component.items() if key != 'properties'})
        for node in bill.get('dependencies', []):
            targets = {purl_of[ref] for ref in node.get('dependsOn', []) if ref in purl_of}
            if node['ref'] in purl_of:
                leads.setdefault(purl_of[node['ref']], set()).update(targets)
            else:
                roots |= targets
        for tool in bill['metadata']['tools']['components']:
            # npm is whatever this machine has.
            if tool['name'] != 'npm':
                tools[tool['name']] = {key: tool[key] for key in ('type', 'group', 'name', 'version') if key in tool}

    # A package of the front end can lie in two places.
    included = {part['purl']: part for part in parts}
    listed = []
    for part in included.values():
        found = components.get(part['purl'])
        if found is None and not part['name'].startswith(RUNTIMES):
            raise SystemExit(f"{part['name']} {part['version']} is included, and no bill of materials has it.")
        if found is None:
            found = {'type': 'framework', 'name': part['name'], 'version': part['version'], 'purl': part['purl']}
            roots.add(part['purl'])
        licences = [{'expression': part['licence']}] if part['licence'] else [{'license': {'name': part['link'] or 'see NOTICES.txt'}}]
        listed.append({'licenses': licences} | found | {'bom-ref': part['purl'], 'scope': 'required'})
    bill = {
        '$schema': 'http://cyclonedx.org/schema/bom-1.6.schema.json',
        'bomFormat': 'CycloneDX',
        'specVersion': '1.6',
        'version': 1,
        'metadata': {
            'tools': {'components': [tools[name] for name in sorted(tools)]},
            'component': {'type': 'application', 'name': 'Jade Orchard', 'version': version, 'bom-ref': 'jade-orchard'},
        },
        'components': listed,
        'dependencies': [{'ref': 'jade-orchard', 'dependsOn': sorted(roots & included.keys())}]
        + [{'ref': purl, 'dependsOn': sorted(leads.get(purl, set()) & included.keys())} for purl in sorted(included)],
    }
    to.write_text(json.dumps(bill, indent=1) + '\n')
