/** The plan in and out: files to export, and files to import, with a preview and all or nothing. */
import { wrap, type Remote } from 'comlink';
import { Download } from 'lucide-react';
import { useEffect, useRef, useState, type DragEvent } from 'react';
import { toast } from '../../ui/toast';
import type { Plan } from '../../core/plan/plan';
import type { How, Outcome } from '../../core/formats/format';
import type { FormatId } from '../../core/formats/plan/index';
import type { ImportWorker, Preview, ShownFormat } from '../../workers/import-worker';
import { Button } from '../../ui/Button';
import { count } from '../../ui/format';
import { useWorkplace } from '../workplace/context';
import { places } from '../workplace/place';
import { Mapping, Report } from './ImportPreview';

const NO_FORMATS = { written: [], readable: [] };

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
  const [formats, setFormats] = useState<{ readonly written: readonly ShownFormat[]; readonly readable: readonly ShownFormat[] }>(
    NO_FORMATS,
  );
  useEffect(() => {
    void worker.formats().then(setFormats);
  }, [worker]);
  const [kind, setKind] = useState<FormatId>('csv');
  const own = formats.readable.find((f) => f.id === kind);
  const [preview, setPreview] = useState<Preview | undefined>();
  const [mapping, setMapping] = useState<readonly (string | undefined)[]>([]);
  const [how, setHow] = useState<How>('add');
  const [outcome, setOutcome] = useState<Outcome | undefined>();
  const [busy, setBusy] = useState(false);

  const look = async (content: string, as: FormatId, fileName: string, mode: How, chosen?: readonly (string | undefined)[]) => {
    setBusy(true);
    setOutcome(undefined);
    try {
      let map = chosen;
      if (formats.readable.find((f) => f.id === as)?.hasColumns) {
        const seen = chosen && preview ? preview : await worker.preview(content);
        map ??= seen.mapping;
        setPreview(seen);
        setMapping(map);
      } else setPreview(undefined);
      setOutcome(await worker.read(as, plan, content, fileName, mode, map));
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
  const take = async (content: string, fileName: string) => {
    setText(content);
    setName(fileName);
    const as = await worker.recognise(fileName, content);
    setKind(as);
    if (content.trim() === '') {
      setOutcome(undefined);
      setPreview(undefined);
    } else await look(content, as, fileName, how);
  };
  const takeFile = async (f: File | undefined) => f && (await take(await worker.text(await f.arrayBuffer()), f.name));
  const onDrop = (e: DragEvent) => {
    e.preventDefault();
    void takeFile(e.dataTransfer.files[0]);
  };
  const bring = () => {
    if (!outcome || outcome.edits.length === 0) return;
    const { edits, summary } = outcome;
    if (!store.apply(edits, `Imported ${name || (own?.reads ?? kind)}`, () => toast(`Imported. ${summary} Undo with Ctrl Z.`))) {
      toast.error('The plan changed in the meantime; check the preview again.');
      void look(text, kind, name, how, own?.hasColumns ? mapping : undefined);
      return;
    }
    setText('');
    setOutcome(undefined);
    setPreview(undefined);
    go(...places.plan('event'));
  };
  return (
    <div className="px-7 py-5">
      <h2 className="text-lg font-bold">Export</h2>
      <div className="mt-2 mb-6 grid grid-cols-3 gap-x-6 gap-y-2">
        {formats.written.map((f) => (
          <div key={f.id}>
            <a
              href={`/api/plan-file?format=${f.id}&version=draft`}
              download
              className="inline-flex min-h-[24px] items-center gap-1.5 font-semibold text-accent underline decoration-dotted"
            >
              <Download size={14} /> {f.title}
            </a>
            <p className="text-sm text-ink-2">{f.note}</p>
          </div>
        ))}
      </div>
      <h2 className="text-lg font-bold">Import</h2>
      <p className="mt-1 mb-2 text-ink-2">
        Drop a file here, choose one, or paste rows from a spreadsheet. Nothing changes until you import; the import is one change that can
        be undone.
      </p>
      <div onDragOver={(e) => e.preventDefault()} onDrop={onDrop}>
        <textarea
          aria-label="Text to import"
          rows={preview ? 3 : 6}
          value={text.length > 200_000 ? `${text.slice(0, 2000)}\n… (${count(text.length)} characters)` : text}
          readOnly={text.length > 200_000}
          placeholder="event,property,type,required …"
          onChange={(e) => void take(e.target.value, '')}
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
                  setKind(e.target.value as FormatId);
                  void look(text, e.target.value as FormatId, name, how);
                }}
                className="border border-rule bg-paper py-0.5 text-ink"
              >
                {formats.readable.map((f) => (
                  <option key={f.id} value={f.id}>
                    {f.reads}
                  </option>
                ))}
              </select>
            </label>
          )}
          {own?.isWhole && text !== '' ? (
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
            Import
          </Button>
        </div>
      </div>
      {preview && own?.hasColumns ? (
        <Mapping
          preview={preview}
          mapping={mapping}
          onChange={(m) => {
            setMapping(m);
            void look(text, kind, name, how, m);
          }}
        />
      ) : null}
      {outcome ? <Report outcome={outcome} /> : null}
    </div>
  );
};
