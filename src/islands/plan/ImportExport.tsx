/** The plan in and out: files to take away, and files to bring in, with a preview and all or nothing. */
import { wrap, type Remote } from 'comlink';
import { Download } from 'lucide-react';
import { useEffect, useRef, useState, type DragEvent } from 'react';
import { toast } from 'sonner';
import type { Plan } from '../../core/plan/plan';
import type { ImportWorker, Outcome, Preview } from '../../workers/import-worker';
import { Button } from '../../ui/Button';
import { count } from '../../ui/format';
import { useWorkplace } from '../workplace/context';
import { Mapping, Report } from './ImportPreview';

const FILES = [
  {
    format: 'csv',
    title: 'CSV',
    note: 'One row for each event and property, as people keep it in sheets. Cells that a sheet would take for a formula get an apostrophe before them.',
  },
  { format: 'json', title: 'JSON', note: 'The whole plan, with everything in it.' },
  { format: 'yaml', title: 'YAML', note: 'The same, easier to read and to compare.' },
  { format: 'md', title: 'Markdown', note: 'A document for readers.' },
  { format: 'names', title: 'Three-level names', note: 'group / action / detail, a line each.' },
  { format: 'schema', title: 'JSON Schema of the JSON file', note: 'To check a plan file by, and to write one.' },
] as const;

const KINDS = ['csv', 'plan', 'schema', 'names'] as const;
type FileKind = (typeof KINDS)[number];
const KIND_TEXT: Record<FileKind, string> = {
  csv: 'a sheet (CSV, or rows pasted from one)',
  plan: 'a plan (JSON or YAML)',
  schema: 'a JSON Schema of an event',
  names: 'three-level names',
};

const kindOf = (name: string, text: string): FileKind => {
  const start = text.trimStart();
  if (/\.(csv|tsv)$/i.test(name)) return 'csv';
  if (/\.ya?ml$/i.test(name) || /^format:/m.test(start.slice(0, 400))) return 'plan';
  if (start.startsWith('{')) return /"format"\s*:\s*"signal-post-plan/.test(start.slice(0, 400)) ? 'plan' : 'schema';
  const [first = ''] = start.split('\n');
  return first.includes('/') && !/[,\t;]/.test(first) ? 'names' : 'csv';
};

const useImportWorker = (): Remote<ImportWorker> => {
  const [held] = useState(() => {
    const worker = new Worker(new URL('../../workers/import-worker.ts', import.meta.url), { type: 'module' });
    return { worker, api: wrap<ImportWorker>(worker) };
  });
  useEffect(() => () => held.worker.terminate(), [held]);
  return held.api;
};

export const ImportExport = ({ plan }: { plan: Plan }) => {
  const { store, go } = useWorkplace();
  const worker = useImportWorker();
  const file = useRef<HTMLInputElement>(null);
  const [name, setName] = useState('');
  const [text, setText] = useState('');
  const [kind, setKind] = useState<FileKind>('csv');
  const [preview, setPreview] = useState<Preview | undefined>();
  const [mapping, setMapping] = useState<readonly (string | undefined)[]>([]);
  const [how, setHow] = useState<'add' | 'replace' | 'replace all'>('add');
  const [outcome, setOutcome] = useState<Outcome | undefined>();
  const [busy, setBusy] = useState(false);

  const look = async (
    content: string,
    as: FileKind,
    fileName: string,
    mode: 'add' | 'replace' | 'replace all',
    chosen?: readonly (string | undefined)[],
  ) => {
    setBusy(true);
    setOutcome(undefined);
    try {
      if (as === 'csv') {
        const seen = chosen && preview ? preview : await worker.previewCsv(content);
        const map = chosen ?? seen.mapping;
        setPreview(seen);
        setMapping(map);
        setOutcome(await worker.importCsv(plan, map));
      } else {
        setPreview(undefined);
        setOutcome(
          as === 'plan'
            ? await worker.importDocument(plan, content, mode)
            : as === 'schema'
              ? await worker.importSchema(plan, content, fileName.replace(/(\.schema)?\.json$/i, ''))
              : await worker.importThreeLevel(plan, content),
        );
      }
    } catch (e) {
      setOutcome({
        edits: [],
        problems: [{ where: 'file', detail: `It could not be read: ${(e as Error).message}` }],
        notes: [],
        summary: '',
      });
    } finally {
      setBusy(false);
    }
  };
  const take = (content: string, fileName: string) => {
    const as = kindOf(fileName, content);
    setText(content);
    setName(fileName);
    setKind(as);
    if (content.trim() === '') {
      setOutcome(undefined);
      setPreview(undefined);
    } else void look(content, as, fileName, how);
  };
  const takeFile = async (f: File | undefined) => f && take(await worker.text(await f.arrayBuffer()), f.name);
  const onDrop = (e: DragEvent) => {
    e.preventDefault();
    void takeFile(e.dataTransfer.files[0]);
  };
  const bring = () => {
    if (!outcome || outcome.edits.length === 0) return;
    const { edits, summary } = outcome;
    if (!store.apply(edits, `Imported ${name || KIND_TEXT[kind]}`, () => void toast(`Imported. ${summary} Undo with Ctrl Z.`))) {
      toast.error('The plan changed meanwhile; look at the preview again.');
      void look(text, kind, name, how, kind === 'csv' ? mapping : undefined);
      return;
    }
    setText('');
    setOutcome(undefined);
    setPreview(undefined);
    go('plan', 'event');
  };
  return (
    <div className="px-7 py-5">
      <h2 className="text-lg font-bold">Take away</h2>
      <div className="mt-2 mb-6 grid grid-cols-3 gap-x-6 gap-y-2">
        {FILES.map((f) => (
          <div key={f.format}>
            <a
              href={`/api/plan-file?format=${f.format}&version=draft`}
              download
              className="inline-flex min-h-[24px] items-center gap-1.5 font-semibold text-accent underline decoration-dotted"
            >
              <Download size={14} /> {f.title}
            </a>
            <p className="text-sm text-ink-2">{f.note}</p>
          </div>
        ))}
      </div>
      <h2 className="text-lg font-bold">Bring in</h2>
      <p className="mt-1 mb-2 text-ink-2">
        Drop a file here, choose one, or paste rows from a sheet. Nothing is changed before you say so; then it is one change that can be
        undone.
      </p>
      <div onDragOver={(e) => e.preventDefault()} onDrop={onDrop}>
        <textarea
          aria-label="What is brought in"
          rows={preview ? 3 : 6}
          value={text.length > 200_000 ? `${text.slice(0, 2000)}\n… (${count(text.length)} characters)` : text}
          readOnly={text.length > 200_000}
          placeholder="event,property,type,required …"
          onChange={(e) => take(e.target.value, '')}
          className="w-full border border-rule bg-paper p-2 wire text-[0.88rem] placeholder:text-ink-2"
        />
        <div className="mt-1 flex flex-wrap items-center gap-3">
          <input
            ref={file}
            type="file"
            className="sr-only"
            aria-label="File"
            tabIndex={-1}
            onChange={(e) => void takeFile(e.target.files?.[0])}
          />
          <Button onClick={() => file.current?.click()}>Choose a file</Button>
          {text === '' ? null : (
            <label className="flex items-center gap-1.5 text-ink-2">
              it is
              <select
                value={kind}
                onChange={(e) => {
                  setKind(e.target.value as FileKind);
                  void look(text, e.target.value as FileKind, name, how);
                }}
                className="border border-rule bg-paper py-0.5 text-ink"
              >
                {KINDS.map((k) => (
                  <option key={k} value={k}>
                    {KIND_TEXT[k]}
                  </option>
                ))}
              </select>
            </label>
          )}
          {kind === 'plan' && text !== '' ? (
            <label className="flex items-center gap-1.5 text-ink-2">
              and
              <select
                value={how}
                onChange={(e) => {
                  setHow(e.target.value as typeof how);
                  void look(text, kind, name, e.target.value as typeof how);
                }}
                className="border border-rule bg-paper py-0.5 text-ink"
              >
                <option value="add">adds to the plan</option>
                <option value="replace">replaces the plan, not its settings</option>
                <option value="replace all">replaces the plan and its settings</option>
              </select>
            </label>
          ) : null}
          {busy ? <span className="text-ink-2">Reading …</span> : null}
          <Button look="full" className="ml-auto" disabled={!outcome || outcome.edits.length === 0 || busy} onClick={bring}>
            Bring it in
          </Button>
        </div>
      </div>
      {preview && kind === 'csv' ? (
        <Mapping
          preview={preview}
          mapping={mapping}
          onChange={(m) => {
            setMapping(m);
            void look(text, 'csv', name, how, m);
          }}
        />
      ) : null}
      {outcome ? <Report outcome={outcome} /> : null}
    </div>
  );
};
