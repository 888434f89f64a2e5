/** All findings of the plan's own rules, rule by rule, gravest first; a rule's fixes can be applied together. */
import { useVirtualizer } from '@tanstack/react-virtual';
import { useMemo, useRef } from 'react';
import { toast } from '../../ui/toast';
import { fixAll, ruleOf, type ShownFinding } from '../../core/lint/lint';
import { Button } from '../../ui/Button';
import { plural } from '../../ui/format';
import { Empty } from '../../ui/States';
import { usePlan, useWorkplace } from '../workplace/context';
import { places, type To } from '../workplace/place';
import { FindingNote } from './FindingNote';

const placeOf = (f: ShownFinding): To => {
  const [kind, id] = f.path.map(String);
  if (kind === 'question') return places.question(id!);
  return kind === 'settings' ? places.plan(f.path[2] === 'limits' ? 'limits' : 'naming') : places.row(kind!, id!);
};

export const FindingList = ({ findings }: { findings: readonly ShownFinding[] }) => {
  const { go, store } = useWorkplace();
  const plan = usePlan();
  const scroller = useRef<HTMLDivElement>(null);
  const rows = useMemo(() => {
    const byRule = new Map<string, ShownFinding[]>();
    for (const f of findings) {
      const list = byRule.get(f.code);
      if (list) list.push(f);
      else byRule.set(f.code, [f]);
    }
    return [...byRule].flatMap(([code, list]) => [{ code, list }, ...list]);
  }, [findings]);
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => 62,
    overscan: 10,
  });
  const fix = (code: string) => {
    const { edits, fixed } = fixAll(plan, code);
    if (edits.length > 0)
      store.apply(edits, `Fixed all: ${ruleOf(code)?.title ?? code}`, () => toast(`${plural(fixed, 'finding')} fixed. Undo with Ctrl Z.`));
  };
  if (findings.length === 0) return <Empty title="No issues.">Every active check passes.</Empty>;
  return (
    <div
      ref={scroller}
      role="region"
      aria-label="Issues in the plan"
      tabIndex={0}
      className="min-h-0 flex-1 overflow-y-auto outline-offset-[-2px]"
    >
      <div className="relative" style={{ height: virtual.getTotalSize() }}>
        {virtual.getVirtualItems().map((v) => {
          const r = rows[v.index]!;
          return (
            <div
              key={v.key}
              ref={virtual.measureElement}
              data-index={v.index}
              className="absolute w-full max-w-[860px] px-7"
              style={{ top: v.start }}
            >
              {'list' in r ? (
                <div className="flex items-baseline gap-3 pt-4 pb-2">
                  <h2 className="text-[1.05rem] font-bold">{ruleOf(r.code)?.title}</h2>
                  <span className="text-sm text-ink-2">{plural(r.list.length, 'finding')}</span>
                  {r.list.filter((f) => f.fixable).length > 1 ? (
                    <Button className="ml-auto text-sm" onClick={() => fix(r.code)}>
                      Fix all {r.list.filter((f) => f.fixable).length}
                    </Button>
                  ) : null}
                </div>
              ) : (
                <div className="flex items-start gap-4">
                  <div className="min-w-0 flex-1">
                    <FindingNote finding={r} typing={false} brief />
                  </div>
                  <Button look="quiet" className="text-sm" onClick={() => go(...placeOf(r))}>
                    Open
                  </Button>
                </div>
              )}
            </div>
          );
        })}
      </div>
    </div>
  );
};
