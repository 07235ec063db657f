import { type ChildProcess, execFileSync, spawn } from 'node:child_process';
import { once } from 'node:events';
import { copyFileSync, existsSync, mkdirSync, mkdtempSync, readdirSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

/** Where all that the browser tests make is kept; ./test makes it and takes it away. */
export const data = process.env.JADE_BROWSER_DATA ?? mkdtempSync(join(tmpdir(), 'jade-browser-'));
export const demoFiles = join(data, 'demo-files');
/** The services that all tests share. What one of them changes there, it changes for all: see `World`. */
export const sharedServices = 'http://localhost:5188';

const build = join(process.cwd(), '../.build');

/** A port that nothing listens at. */
export async function freePort() {
  const server = createServer().listen(0, '127.0.0.1');
  await once(server, 'listening');
  const { port } = server.address() as { port: number };
  server.close();
  await once(server, 'close');
  return port;
}

async function answers(url: string) {
  for (const end = Date.now() + 60_000; Date.now() < end; await new Promise((wait) => setTimeout(wait, 50)))
    if (
      await fetch(url).then(
        (r) => r.ok,
        () => false,
      )
    )
      return;
  throw new Error(`Nothing answers at ${url}.`);
}

/** A program of ours, until it is ended. */
class Program {
  private process: ChildProcess | undefined;
  constructor(
    readonly url: string,
    private readonly name: string,
    private readonly check: string,
    private readonly options: string[],
  ) {}

  async start() {
    this.process = spawn('dotnet', [`${this.name}.dll`, ...this.options], {
      cwd: join(build, this.name),
      stdio: 'ignore',
    });
    await answers(this.url + this.check);
  }

  /** Ends it at once, as a loss of power would, or as the system asks for it. */
  async end(how: 'SIGKILL' | 'SIGTERM' = 'SIGTERM') {
    const { process } = this;
    if (!process || process.exitCode !== null || process.signalCode !== null) return;
    const ended = once(process, 'exit');
    process.kill(how);
    await ended;
  }
}

/** A project of a server, asked over HTTP. */
export class Project {
  constructor(
    readonly url: string,
    readonly services: string,
  ) {}

  async send<T>(method: string, path: string, body?: unknown): Promise<T> {
    const answer = await fetch(this.url + path, {
      method,
      ...(body instanceof Buffer
        ? { body: new Uint8Array(body), headers: { 'Content-Type': 'application/octet-stream' } }
        : body !== undefined && { body: JSON.stringify(body), headers: { 'Content-Type': 'application/json' } }),
    });
    const text = await answer.text();
    if (!answer.ok) throw new Error(`${method} ${path}: ${answer.status} ${text}`);
    return (text === '' ? undefined : JSON.parse(text)) as T;
  }

  readonly get = <T>(path: string) => this.send<T>('GET', path);

  /** Waits until no job waits or runs. */
  async idle() {
    while ((await this.get<unknown[]>('/api/jobs/active')).length > 0)
      await new Promise((wait) => setTimeout(wait, 150));
  }

  /** Imports a table whose columns have the usual names. */
  async import(kind: string, name: string, text: string) {
    const upload = await this.send<{ uploadId: string; columns: Record<string, unknown> }>(
      'POST',
      `/api/uploads?fileName=${name}`,
      Buffer.from(text),
    );
    const columns = upload.columns[kind];
    await this.send('POST', '/api/imports', { uploadId: upload.uploadId, fileName: name, kind, columns });
    await this.idle();
  }

  /** Asks other services from now on, and reaches sites through them. */
  async use(services: string) {
    for (const { name, header } of await this.get<{ name: string; header: string }[]>('/api/services'))
      await this.send('PUT', `/api/services/${name}`, { address: services, header, key: null });
    const { scan } = await this.get<{ scan: object }>('/api/settings');
    await this.send('PUT', '/api/settings/scan', { ...scan, gateway: services });
  }
}

/** Jade Orchard with a data folder of its own. */
export class Server extends Program {
  /** The first project. */
  readonly project: Project;
  constructor(
    port: number,
    readonly folder: string,
    readonly services: string,
    more: string[],
  ) {
    super(`http://localhost:${port}`, 'JadeOrchard.Server', '/api/projects', [
      ...['--port', String(port), '--data', folder, '--services', services],
      ...more,
    ]);
    this.project = new Project(this.url, services);
  }

  private made = 0;

  /** Another project, as it was kept. */
  add(state: string) {
    const id = `${state}-${++this.made}`;
    put(state, join(this.folder, 'projects', id));
    return new Project(`${this.url}/p/${id}`, this.services);
  }

  /** Closes a project, so that it takes no memory any more. */
  async remove({ url }: Project) {
    const answer = await fetch(url.replace('/p/', '/api/projects/'), { method: 'DELETE' });
    if (!answer.ok) throw new Error(`${url} was not removed: ${answer.status} ${await answer.text()}`);
  }
}

export async function startServer(folder: string, services = sharedServices, ...more: string[]) {
  const server = new Server(await freePort(), folder, services, more);
  await server.start();
  return server;
}

/** Services and sites that one test has for itself: it may change them, and let time pass. */
export class World extends Program {
  constructor(port: number) {
    super(`http://localhost:${port}`, 'JadeOrchard.StandIns', '/control', [
      ...['serve', '--scenario', '../../demo/scenario.json', '--port', String(port)],
    ]);
  }
}

export async function startWorld() {
  const world = new World(await freePort());
  await world.start();
  return world;
}

const prepared = (state: string) => join(data, 'prepared', state);

/** Keeps the project of a running server under a name. The copy is a whole one: SQLite makes it. */
export function keep(server: Server, state: string) {
  mkdirSync(prepared(state), { recursive: true });
  const copy =
    'import sqlite3, sys\n' +
    'source, target = (sqlite3.connect(name) for name in sys.argv[1:])\n' +
    'source.backup(target)\n' +
    'target.execute("PRAGMA journal_mode=DELETE")';
  const projects = join(server.folder, 'projects');
  const file = join(projects, readdirSync(projects)[0]!, 'project.db');
  execFileSync('python3', ['-c', copy, file, join(prepared(state), 'project.db')]);
}

/** Puts a project into a folder as it was kept. */
function put(state: string, folder: string) {
  const file = join(prepared(state), 'project.db');
  if (!existsSync(file)) throw new Error(`No project “${state}” was prepared.`);
  mkdirSync(folder, { recursive: true });
  copyFileSync(file, join(folder, 'project.db'));
}

/** A new data folder; with a project as it was kept, or with none. */
export function dataFolder(state?: string) {
  mkdirSync(join(data, 'folders'), { recursive: true });
  const folder = mkdtempSync(join(data, 'folders', `${state ?? 'new'}-`));
  if (state) put(state, join(folder, 'projects', 'project'));
  return folder;
}
