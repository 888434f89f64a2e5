/** The stand-in backend: the lending desk's own messages, and a generator of traffic with a rate. */
import { useEffect, useRef, useState } from 'react';
import { BUTTON, StandInFrame, useMember, useStandIn } from './parts';
import type { Outgoing } from './sender';
import { TOOLS } from './tools';
import { visit } from './traffic';

const RELEASE = '2026.9';
const TICK_MS = 250;
const RATES = [1, 10, 50, 200, 1000] as const;
const SOURCES = ['web', 'backend', 'payments'] as const;

const FAULTS = [
  { id: 'personal', text: 'The desk writes an e-mail address into the damage note' },
  { id: 'emailUser', text: 'Payments sends the e-mail address as the user ID' },
  { id: 'retries', text: 'Sends one in twenty again under the same message ID' },
  { id: 'silent', text: 'Payments sends nothing' },
] as const;
type FaultId = (typeof FAULTS)[number]['id'];

const Backend = () => {
  const [member] = useMember();
  const { sent, senders, on, setOn, has } = useStandIn<FaultId>([
    { sourceId: 'web', release: '9.0.0' },
    { sourceId: 'backend', release: RELEASE },
    { sourceId: 'payments', release: RELEASE },
  ]);
  const desk = senders[1]!;
  const [rate, setRate] = useState<number>(10);
  const [running, setRunning] = useState(false);
  const [totals, setTotals] = useState({ sent: 0, accepted: 0, findings: 0, duplicates: 0, rejected: 0, failed: 0 });
  const user = member ?? 'm-90000';
  const tool = TOOLS[0]!;
  const lent = { tool_id: tool.tool_id, branch: tool.branch };
  const faults = useRef(has);
  useEffect(() => {
    faults.current = has;
  }, [has]);

  useEffect(() => {
    if (!running) return;
    const ready: { sourceId: string; message: Outgoing }[] = [];
    let due = 0;
    let underWay = 0;
    const tick = (): void => {
      due += (rate * TICK_MS) / 1000;
      const n = Math.floor(due);
      due -= n;
      const is = faults.current;
      while (ready.length < n) ready.push(...visit({ personal: is('personal'), emailUser: is('emailUser') }));
      // A server that is slow is not to be buried.
      if (underWay > 6) return;
      const now = ready.splice(0, n).filter((d) => !(is('silent') && d.sourceId === 'payments'));
      SOURCES.forEach((sourceId, i) => {
        const list = now.filter((d) => d.sourceId === sourceId).map((d) => ({ ...d.message, id: crypto.randomUUID() }));
        if (list.length === 0) return;
        const again = is('retries') ? list.filter(() => Math.random() < 0.05) : [];
        underWay++;
        void senders[i]!.sendAll([...list, ...again]).then((a) => {
          underWay--;
          setTotals((t) => ({
            sent: t.sent + list.length + again.length,
            accepted: t.accepted + (a?.accepted ?? 0) + (a?.acceptedWithFindings ?? 0),
            findings: t.findings + (a?.acceptedWithFindings ?? 0),
            duplicates: t.duplicates + (a?.duplicates ?? 0),
            rejected: t.rejected + (a?.rejected ?? 0),
            failed: t.failed + (a?.answers ? 0 : list.length + again.length),
          }));
        });
      });
    };
    const timer = setInterval(tick, TICK_MS);
    return () => clearInterval(timer);
  }, [running, rate, senders]);

  return (
    <StandInFrame title="backend" release={RELEASE} who={`for the member ${user}`} faults={FAULTS} on={on} onFaults={setOn} sent={sent}>
      <main className="px-4 py-3">
        <h1 className="text-lg font-bold">At the desk</h1>
        <div className="mt-2 flex flex-wrap gap-2">
          <button
            type="button"
            className={BUTTON}
            onClick={() => void desk.send({ name: 'Loan Started', ids: { user }, properties: { ...lent, loan_days: 3 } })}
          >
            Hand over a drill
          </button>
          <button
            type="button"
            className={BUTTON}
            onClick={() =>
              void desk.send({
                name: 'Loan Returned',
                ids: { user },
                properties: {
                  ...lent,
                  days_kept: 4,
                  tool_condition: 'worn',
                  ...(has('personal') ? { damage_note: `Call ${user}@example.org` } : {}),
                },
              })
            }
          >
            Take it back
          </button>
          <button
            type="button"
            className={BUTTON}
            onClick={() => void desk.send({ name: 'Membership Activated', ids: { user }, properties: { membership_tier: 'maker' } })}
          >
            Activate a membership
          </button>
        </div>
        <h2 className="mt-5 text-lg font-bold">Traffic</h2>
        <p className="text-ink-2">Visitors of the web catalogue, the desk and payments, made up.</p>
        <div className="mt-2 flex items-center gap-3">
          <label>
            <select
              aria-label="Messages a second"
              value={rate}
              onChange={(e) => setRate(Number(e.target.value))}
              className="border border-ink bg-paper px-1 py-1"
            >
              {RATES.map((r) => (
                <option key={r} value={r}>
                  {r.toLocaleString('en-GB')}
                </option>
              ))}
            </select>{' '}
            a second
          </label>
          <button type="button" className={BUTTON} aria-pressed={running} onClick={() => setRunning(!running)}>
            {running ? 'Stop' : 'Start'}
          </button>
        </div>
        <dl className="mt-3 grid grid-cols-3 gap-2 text-sm">
          {(
            [
              ['sent', totals.sent],
              ['accepted', totals.accepted],
              ['with findings', totals.findings],
              ['duplicates', totals.duplicates],
              ['rejected', totals.rejected],
              ['not answered', totals.failed],
            ] as const
          ).map(([name, n]) => (
            <div key={name}>
              <dt className="text-ink-2">{name}</dt>
              <dd className="text-lg font-semibold figures">{n.toLocaleString('en-GB')}</dd>
            </div>
          ))}
        </dl>
      </main>
    </StandInFrame>
  );
};

export default Backend;
