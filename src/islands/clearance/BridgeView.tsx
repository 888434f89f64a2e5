/** The figure as it arrived and as it would be: its sum in a line, and each correction with its switch, its messages and its effect. */
import { useEffect, useState } from 'react';
import { ApiError, askSteps, type Progress } from '../../client/api';
import type { Bridge } from '../../core/clearance/bridge';
import { CORRECTIONS, type CorrectionId } from '../../core/clearance/correction-names';
import { count, decimal, percent, plural } from '../../ui/format';
import { ProgressBar } from '../../ui/ProgressBar';

interface Found {
  readonly key: string;
  readonly bridge?: Bridge;
  readonly error?: string;
  /** Why there is none, where nothing is wrong. */
  readonly none?: string;
}

export const useBridge = (questionId: string, hasFigure: boolean) => {
  const [off, setOff] = useState<ReadonlySet<CorrectionId>>(new Set());
  const [found, setFound] = useState<Found>();
  const [told, setTold] = useState<Progress>();
  const key = JSON.stringify([questionId, [...off].sort()]);
  useEffect(() => {
    if (!hasFigure) return undefined;
    const mine = new AbortController();
    const [question, without] = JSON.parse(key) as [string, CorrectionId[]];
    const onProgress = (p: Progress): void => (mine.signal.aborted ? undefined : setTold(p));
    void askSteps('POST /api/bridge', { body: { question, off: without } }, onProgress, mine.signal).then(
      (bridge) => (mine.signal.aborted ? undefined : setFound({ key, bridge })),
      (e: unknown) => {
        if (mine.signal.aborted) return;
        const { message } = e as Error;
        setFound(e instanceof ApiError && e.status === 409 ? { key, none: message } : { key, error: message });
      },
    );
    return () => mine.abort();
  }, [key, hasFigure]);
  const toggle = (id: CorrectionId): void => {
    const next = new Set(off);
    if (!next.delete(id)) next.add(id);
    setOff(next);
  };
  const progress = hasFigure && found?.key !== key ? (told ?? { done: 0, total: 1 }) : undefined;
  // While a switch is followed, what was shown before stays.
  return {
    bridge: found?.bridge,
    progress,
    error: progress ? '' : (found?.error ?? ''),
    none: progress ? '' : (found?.none ?? ''),
    off,
    toggle,
  };
};

type Held = ReturnType<typeof useBridge>;

const shown = (n: number | undefined, isShare: boolean): string => (n === undefined ? '–' : isShare ? percent(n) : decimal(n));
const change = (from: number | undefined, to: number | undefined, isShare: boolean): string => {
  if (from === undefined || to === undefined) return '';
  const d = (to - from) * (isShare ? 100 : 1);
  if (Math.abs(d) < 1e-9) return 'no change';
  return `${d > 0 ? '+' : '−'}${decimal(Math.abs(d))}${isShare ? ' points' : ''}`;
};

/** What is shown beside the figure. */
export const BridgeSum = ({ held: { bridge, progress, error, none }, isShare }: { held: Held; isShare: boolean }) => {
  if (error) return null;
  if (none !== '') return <span className="text-sm text-ink-2">{none}</span>;
  if (!bridge)
    return progress ? (
      <ProgressBar label="Working out the figure as it would be" done={progress.done} total={progress.total} className="w-28" />
    ) : null;
  const { asItArrived, asItWouldBe, steps } = bridge;
  if (steps.length === 0) return <span className="text-sm text-ink-2">nothing in it to put right</span>;
  return (
    <span>
      <b className="text-[1.3rem]">{shown(asItWouldBe, isShare)}</b>{' '}
      <span className="text-sm text-ink-2">as it would be, {change(asItArrived, asItWouldBe, isShare)}</span>
    </span>
  );
};

export const BridgeView = ({ held: { bridge, progress, error, off, toggle }, isShare }: { held: Held; isShare: boolean }) => {
  if (error)
    return (
      <p role="alert" className="mt-3 border-l-4 border-stop pl-3">
        {error}
      </p>
    );
  if (!bridge || (bridge.steps.length === 0 && off.size === 0 && !bridge.bound)) return null;
  const { asItArrived, asItWouldBe, steps, bound } = bridge;
  const values = [asItArrived, ...steps.map((s) => s.after), bound?.high].filter((v) => v !== undefined);
  const max = Math.max(...values.map(Math.abs), Number.EPSILON);
  const at = (v: number | undefined): number => ((v ?? 0) / max) * 100;
  const rows = CORRECTIONS.flatMap((c) => {
    const step = steps.find((s) => s.id === c.id);
    return step || off.has(c.id) ? [{ ...c, step }] : [];
  });
  return (
    <section aria-label="As it would be" className="mt-4 border-t border-ink pt-3">
      <h2 className="mb-1 font-bold">
        As it would be
        <span className="ml-2 text-sm font-normal text-ink-2">
          with what is known to be wrong put right; the messages stay as they came{progress ? ', working …' : ''}
        </span>
      </h2>
      <table className="w-full table-fixed border-collapse">
        <tbody>
          <tr className="border-t border-rule">
            <td className="w-[300px] py-1">As it arrived</td>
            <td className="w-[110px]" />
            <td className="pr-3">
              <span className="block h-2.5 bg-ink-2" style={{ width: `${at(asItArrived)}%` }} />
            </td>
            <td className="w-[104px] text-right font-bold figures">{shown(asItArrived, isShare)}</td>
          </tr>
          {rows.map(({ id, title, step }) => {
            const [low, high] = [Math.min(at(step?.before), at(step?.after)), Math.max(at(step?.before), at(step?.after))];
            return (
              <tr key={id} className={`border-t border-rule ${step ? '' : 'text-ink-2'}`}>
                <td className="py-1">
                  <label className="flex min-h-[26px] items-center gap-2 leading-tight">
                    <input type="checkbox" className="accent-accent" checked={!off.has(id)} onChange={() => toggle(id)} />
                    {title}
                  </label>
                </td>
                <td className="text-sm text-ink-2 figures">{step ? plural(step.messages, 'message') : 'left out'}</td>
                <td className="pr-3">
                  {step ? (
                    <span className="block h-2.5 bg-accent" style={{ marginLeft: `${low}%`, width: `max(2px, ${high - low}%)` }} />
                  ) : null}
                </td>
                <td className="text-right figures">{step ? change(step.before, step.after, isShare) : ''}</td>
              </tr>
            );
          })}
          <tr className="border-t border-ink">
            <td className="py-1 font-bold">As it would be</td>
            <td className="text-sm text-ink-2">{count(steps.reduce((n, s) => n + s.messages, 0))} in all</td>
            <td className="pr-3">
              <span className="block h-2.5 border border-ink" style={{ width: `${at(asItWouldBe)}%` }} />
            </td>
            <td className="text-right font-bold figures">{shown(asItWouldBe, isShare)}</td>
          </tr>
          {bound ? (
            <tr className="border-t border-rule">
              <td className="py-1">What nobody can know</td>
              <td className="text-sm text-ink-2">up to {plural(Math.min(bound.alone, bound.trails), 'person', 'people')}</td>
              <td className="pr-3">
                <span
                  className="block h-2.5 border border-dashed border-ink-2"
                  style={{ marginLeft: `${at(bound.low)}%`, width: `max(2px, ${at(bound.high) - at(bound.low)}%)` }}
                />
              </td>
              <td className="text-right figures">
                {shown(bound.low, isShare)} to {shown(bound.high, isShare)}
              </td>
            </tr>
          ) : null}
        </tbody>
      </table>
      {bound ? (
        <p className="mt-1 text-sm text-ink-2">
          {plural(bound.alone, 'user ID')} to which nothing else was linked may belong to {plural(bound.trails, 'trail')} without one, or to
          nobody else who is counted.
        </p>
      ) : null}
    </section>
  );
};
