/** Changes between two plans, side by side, each with what it means and why. */
import { useMemo, useState } from 'react';
import { diffPlans } from '../../core/plan/diff';
import { IMPACTS, judgeChanges, type Impact, type JudgedChange } from '../../core/plan/impact';
import type { Plan } from '../../core/plan/plan';
import { propertiesText } from '../../core/plan/fields/event-properties';
import { formulaSentence } from '../../core/questions/formulas/index';
import { plural } from '../../ui/format';
import { Empty } from '../../ui/States';
import { Rich } from '../../ui/Rich';
import { KIND_WORD } from '../../core/plan/kind-words';

export const IMPACT_TONE: Record<Impact, string> = { breaking: 'text-stop', additive: 'text-clear', wording: 'text-ink-2' };
const WHAT_TONE = { added: 'text-clear', removed: 'text-stop', changed: 'text-caution' } as const;

/** A field's value as a reader wants it. */
const valueText = (plan: Plan, field: string | undefined, v: unknown): string => {
  if (v === undefined || v === null || v === '') return '–';
  if (typeof v === 'string') return v;
  if (typeof v === 'number' || typeof v === 'boolean') return String(v);
  if (field === 'formula') return formulaSentence(v as Parameters<typeof formulaSentence>[0]);
  if (field === 'properties') return propertiesText(plan, v as Parameters<typeof propertiesText>[1]) || '–';
  if (field === 'sources' && Array.isArray(v))
    return (
      v
        .map((s: { sourceId?: string; build?: string } | string) =>
          typeof s === 'string' ? (plan.source[s]?.name ?? s) : `${plan.source[s.sourceId ?? '']?.name ?? s.sourceId} (${s.build})`,
        )
        .join(', ') || '–'
    );
  if (field === 'sharedSets' && Array.isArray(v)) return v.map((s: string) => plan.sharedSet[s]?.name ?? s).join(', ') || '–';
  if (Array.isArray(v) && v.every((x) => typeof x !== 'object')) return v.join(', ') || '–';
  return JSON.stringify(v, null, 1);
};

const asText = (changes: readonly JudgedChange[], from: Plan, to: Plan): string =>
  changes
    .flatMap((c) => [
      `${c.what} ${KIND_WORD[c.kind]} ${c.label} (${c.impact})`,
      ...c.fields.flatMap((f) =>
        f.field === undefined
          ? [`    ${f.reason}`]
          : [
              `  ${f.field}: ${f.impact}. ${f.reason}`,
              `    - ${valueText(from, f.field, f.before)}`,
              `    + ${valueText(to, f.field, f.after)}`,
            ],
      ),
    ])
    .join('\n');

export const JudgedChanges = ({ from, to, nothing }: { from: Plan; to: Plan; nothing: string }) => {
  const judged = useMemo(() => judgeChanges(diffPlans(from, to), from, to), [from, to]);
  const [view, setView] = useState<'side by side' | 'text'>('side by side');
  const [only, setOnly] = useState<Impact | undefined>();
  const counts = useMemo(() => new Map(IMPACTS.map((i) => [i, judged.filter((c) => c.impact === i).length])), [judged]);
  if (judged.length === 0) return <Empty title={nothing} />;
  const shown = only ? judged.filter((c) => c.impact === only) : judged;
  return (
    <div>
      <div className="flex items-center gap-4 border-b border-rule pb-2">
        {IMPACTS.map((i) => (
          <button
            key={i}
            type="button"
            aria-pressed={only === i}
            onClick={() => setOnly(only === i ? undefined : i)}
            className={`min-h-[24px] border-b-2 ${only === i ? 'border-accent' : 'border-transparent'} ${IMPACT_TONE[i]}`}
          >
            <b>{counts.get(i)}</b> {i}
          </button>
        ))}
        <span className="ml-auto flex gap-3">
          {(['side by side', 'text'] as const).map((v) => (
            <button
              key={v}
              type="button"
              aria-pressed={view === v}
              onClick={() => setView(v)}
              className={`min-h-[24px] border-b-2 ${view === v ? 'border-accent font-semibold' : 'border-transparent text-ink-2'}`}
            >
              {v}
            </button>
          ))}
        </span>
      </div>
      {view === 'text' ? (
        <pre className="mt-3 overflow-x-auto border border-rule bg-ground p-3 wire text-[0.85rem] whitespace-pre-wrap">
          {asText(shown, from, to)}
        </pre>
      ) : (
        shown.map((c) => (
          <section key={`${c.kind} ${c.id}`} className="border-b border-rule py-2">
            <p className="flex items-baseline gap-3">
              <span className={`w-16 shrink-0 text-sm font-semibold ${WHAT_TONE[c.what]}`}>{c.what}</span>
              <span className="w-28 shrink-0 text-sm text-ink-2">{KIND_WORD[c.kind]}</span>
              <span className={`min-w-0 flex-1 truncate font-semibold ${c.kind === 'question' ? '' : 'wire'}`}>{c.label}</span>
              <span className={`text-sm font-semibold ${IMPACT_TONE[c.impact]}`}>{c.impact}</span>
            </p>
            {c.fields.map((f) => (
              <div key={f.field ?? ''} className="mt-1 grid grid-cols-[170px_1fr_1fr] gap-x-3 text-[0.93rem]">
                <span className="pl-[69px] text-ink-2">{f.field}</span>
                {f.field === undefined ? (
                  <span className="col-span-2" />
                ) : (
                  <>
                    <span className="min-w-0 break-words whitespace-pre-wrap line-through decoration-rule">
                      {valueText(from, f.field, f.before)}
                    </span>
                    <span className="min-w-0 break-words whitespace-pre-wrap">{valueText(to, f.field, f.after)}</span>
                  </>
                )}
                <span className={`col-start-2 col-end-4 text-sm ${IMPACT_TONE[f.impact]}`}>
                  {f.impact}: <Rich text={f.reason} />
                </span>
              </div>
            ))}
          </section>
        ))
      )}
      <p className="mt-2 text-sm text-ink-2">{plural(shown.length, 'entry', 'entries')} shown.</p>
    </div>
  );
};
