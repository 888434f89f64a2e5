/** A file of messages imported: what its columns are, how far it is, and what was rejected. */
import { proxy, wrap, type Remote } from 'comlink';
import { FileUp } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { backfillTargets } from '../../core/formats/backfill';
import { entries, settingsOf } from '../../core/plan/plan';
import type { BackfillPreview, BackfillReport as Progress, BackfillWorker } from '../../workers/backfill-worker';
import { Button } from '../../ui/Button';
import { ProgressBar } from '../../ui/ProgressBar';
import { count, plural } from '../../ui/format';
import { Mapping } from '../plan/ImportPreview';
import { usePlan } from '../workplace/context';
import { BackfillReport } from './BackfillReport';

const useBackfillWorker = (): Remote<BackfillWorker> => {
  const [held] = useState(() => {
    const worker = new Worker(new URL('../../workers/backfill-worker.ts', import.meta.url), { type: 'module' });
    return { worker, api: wrap<BackfillWorker>(worker) };
  });
  useEffect(() => () => held.worker.terminate(), [held]);
  return held.api;
};

export const Backfill = () => {
  const plan = usePlan();
  const worker = useBackfillWorker();
  const input = useRef<HTMLInputElement>(null);
  const [file, setFile] = useState<File | undefined>();
  const [preview, setPreview] = useState<BackfillPreview | undefined>();
  const [targets, setTargets] = useState<readonly (string | undefined)[]>([]);
  const [asIs, setAsIs] = useState(false);
  const [sourceId, setSourceId] = useState(() => entries(plan, 'source')[0]?.[0] ?? '');
  const [eventName, setEventName] = useState('');
  const [utc, setUtc] = useState(true);
  const [report, setReport] = useState<Progress | undefined>();
  const [error, setError] = useState('');
  const [over, setOver] = useState(false);
  const running = report?.state === 'running';
  const { timeZone } = settingsOf(plan);

  const choose = async (chosen: File | undefined): Promise<void> => {
    if (!chosen) return;
    setReport(undefined);
    setError('');
    setFile(chosen);
    try {
      const p = await worker.preview(chosen, plan);
      setPreview(p);
      setTargets(p.mapping);
      setAsIs(p.asIs);
    } catch (e) {
      setError((e as Error).message);
    }
  };
  const lacks = [
    ...(asIs || targets.includes('time') ? [] : ['which column holds the time']),
    ...(asIs || targets.includes('name') || eventName.trim() !== ''
      ? []
      : ['which column holds the event name, or one name for every row']),
    ...(sourceId === '' ? ['a source'] : []),
  ];
  const run = async (): Promise<void> => {
    if (!file || !preview) return;
    setError('');
    const mapping = asIs ? undefined : { targets, eventName: eventName.trim(), timeZone: utc ? 'UTC' : timeZone };
    // What is reported on the way may arrive after the end.
    let over = false;
    const onProgress = proxy((r: Progress) => {
      if (!over) setReport(r);
    });
    try {
      const last = await worker.run(file, plan, preview.header, preview.ndjson, mapping, sourceId, onProgress);
      over = true;
      setReport(last);
    } catch (e) {
      over = true;
      setReport((r) => r && { ...r, state: 'cancelled' });
      setError((e as Error).message);
    }
  };
  const own =
    preview?.header.filter((h) => h !== '').map((h) => (/^(ids|properties|user_properties)\./.test(h) ? h : `properties.${h}`)) ?? [];
  const columns = [...new Set([...backfillTargets(plan), ...own, ...targets.filter((t) => t !== undefined)])];
  return (
    <div className="px-6 py-4">
      <h1 className="text-[1.2rem] font-bold">Import messages</h1>
      <p className="max-w-[90ch] text-ink-2">
        Import history from CSV or NDJSON, of any size. Each row is checked like any message; a row imported twice counts once. A row counts
        as received at the time it happened.
      </p>
      <div
        onDragOver={(e) => {
          e.preventDefault();
          setOver(true);
        }}
        onDragLeave={() => setOver(false)}
        onDrop={(e) => {
          e.preventDefault();
          setOver(false);
          void choose(e.dataTransfer.files[0]);
        }}
        className={`mt-3 flex items-center gap-4 border border-dashed p-4 ${over ? 'border-accent bg-wash' : 'border-ink-2'}`}
      >
        <input
          ref={input}
          type="file"
          accept=".csv,.tsv,.txt,.ndjson,.jsonl,text/csv,application/x-ndjson"
          aria-label="File of messages"
          className="sr-only"
          tabIndex={-1}
          onChange={(e) => {
            void choose(e.target.files?.[0]);
            e.target.value = '';
          }}
        />
        <Button disabled={running} onClick={() => input.current?.click()}>
          <FileUp size={15} /> Choose a file
        </Button>
        {file ? (
          <span>
            <b>{file.name}</b> <span className="text-ink-2">{count(Math.ceil(file.size / 1024))} KiB</span>
          </span>
        ) : (
          <span className="text-ink-2">or drop it here</span>
        )}
      </div>
      {preview ? (
        <>
          <div className="mt-3 flex flex-wrap items-center gap-x-5 gap-y-2">
            <label className="flex items-center gap-2">
              as sent by
              <select value={sourceId} onChange={(e) => setSourceId(e.target.value)} className="border border-rule bg-paper px-2 py-1">
                {entries(plan, 'source').map(([id, s]) => (
                  <option key={id} value={id}>
                    {s.name}
                  </option>
                ))}
              </select>
            </label>
            {preview.asIs ? (
              <label className="flex items-center gap-2">
                <input type="checkbox" checked={asIs} onChange={(e) => setAsIs(e.target.checked)} /> each line is a message
              </label>
            ) : null}
            {asIs ? null : (
              <>
                {targets.includes('name') ? null : (
                  <label className="flex items-center gap-2">
                    every row is
                    <input
                      value={eventName}
                      onChange={(e) => setEventName(e.target.value)}
                      placeholder="name of an event"
                      className="border border-rule bg-transparent px-2 py-1 wire placeholder:text-ink-2"
                    />
                  </label>
                )}
                <label className="flex items-center gap-2">
                  times without a zone are in
                  <select
                    value={utc ? 'UTC' : timeZone}
                    onChange={(e) => setUtc(e.target.value === 'UTC')}
                    className="border border-rule bg-paper px-2 py-1"
                  >
                    <option>UTC</option>
                    {timeZone === 'UTC' ? null : <option>{timeZone}</option>}
                  </select>
                </label>
              </>
            )}
          </div>
          {asIs ? null : (
            <Mapping
              preview={{ header: preview.header, sample: preview.sample, rows: 0, mapping: [], columns }}
              mapping={targets}
              onChange={setTargets}
            />
          )}
          <div className="mt-3 flex items-center gap-4">
            {running ? (
              <>
                <Button onClick={() => void worker.cancel()}>Cancel</Button>
                <ProgressBar label="Progress through the file" done={report.bytes} total={report.total} className="w-72" />
                <span className="figures">{Math.floor((report.bytes / Math.max(1, report.total)) * 100)} %</span>
              </>
            ) : (
              <Button look="full" disabled={lacks.length > 0} onClick={() => void run()}>
                Import
              </Button>
            )}
            {lacks.length > 0 ? <span className="text-caution">Still needed: {lacks.join('; ')}.</span> : null}
            {preview.header.length > 0 && !asIs ? (
              <span className="text-ink-2">
                {plural(targets.filter((t) => t === undefined).length, 'column')} left out
                {targets.includes('id') ? '' : '; rows without a message ID get one from their content'}
              </span>
            ) : null}
          </div>
        </>
      ) : null}
      {error ? (
        <p role="alert" className="mt-3 border-l-4 border-stop bg-ground px-4 py-2">
          {error}
        </p>
      ) : null}
      {report ? <BackfillReport report={report} /> : null}
    </div>
  );
};
