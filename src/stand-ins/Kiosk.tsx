/** The stand-in kiosk of a branch: one member after another at the same device. */
import { useEffect, useState } from 'react';
import { BUTTON, newMember, StandInFrame, useMember, useStandIn } from './parts';
import { TOOLS, type Tool } from './tools';

const RELEASE = '2026.9';
const CLOCK_AHEAD = 5 * 3_600_000;
const DEVICE = 'kiosk-stand-in';

const FAULTS = [
  { id: 'device', text: 'Sends its device ID with everybody who signs in' },
  { id: 'clock', text: 'Its clock runs five hours ahead' },
  { id: 'text', text: 'Sends the deposit as text' },
  { id: 'twice', text: 'Sends “Loan Started” twice' },
] as const;
type FaultId = (typeof FAULTS)[number]['id'];

const Kiosk = () => {
  const [own] = useMember();
  const [member, setMember] = useState<string | undefined>();
  const [tool, setTool] = useState<Tool | undefined>();
  const [said, setSaid] = useState('');
  const { sent, senders, on, setOn, has } = useStandIn<FaultId>([{ sourceId: 'kiosk', release: RELEASE }]);
  const kiosk = senders[0]!;
  const ahead = has('clock');
  useEffect(() => {
    kiosk.setAhead(ahead ? CLOCK_AHEAD : 0);
  }, [kiosk, ahead]);
  const idsOf = (user: string): Record<string, string> => (has('device') ? { device: DEVICE, user } : { user });

  const card = (user: string): void => {
    setMember(user);
    setTool(undefined);
    setSaid('');
    void kiosk.send({ name: 'Signed In', ids: idsOf(user), properties: { sign_in_method: 'card' } });
  };
  const borrow = async (user: string, t: Tool): Promise<void> => {
    const lent = { tool_id: t.tool_id, branch: t.branch };
    await kiosk.send({
      name: 'Deposit Paid',
      ids: idsOf(user),
      properties: { ...lent, deposit: has('text') ? String(t.deposit) : t.deposit },
    });
    const started = { name: 'Loan Started', ids: idsOf(user), properties: { ...lent, loan_days: 3 } };
    await kiosk.send(started);
    if (has('twice')) await kiosk.send(started);
    setSaid(`${t.tool_name} is yours for 3 days.`);
    setTool(undefined);
  };
  return (
    <StandInFrame title="kiosk" release={RELEASE} who={member ?? 'waiting for a card'} faults={FAULTS} on={on} onFaults={setOn} sent={sent}>
      <main className="min-h-[420px] px-4 py-5 text-[1.1rem]">
        {member === undefined ? (
          <>
            <h1 className="mb-4 text-2xl font-bold">Lay your card on the reader</h1>
            <button type="button" className={`${BUTTON} w-full py-4`} onClick={() => card(newMember())}>
              Next card
            </button>
            {own ? (
              <button type="button" className={`${BUTTON} mt-3 w-full py-4`} onClick={() => card(own)}>
                The card of {own}
              </button>
            ) : null}
          </>
        ) : (
          <>
            <h1 className="mb-2 text-2xl font-bold">{tool ? tool.tool_name : 'What do you take home?'}</h1>
            {tool ? (
              <>
                <p className="mb-3">Deposit {(tool.deposit / 100).toFixed(2)} €, given back on return.</p>
                <button type="button" className={`${BUTTON} w-full py-3`} onClick={() => void borrow(member, tool)}>
                  Pay and take it
                </button>
                <button type="button" className="mt-3 min-h-[24px] underline" onClick={() => setTool(undefined)}>
                  Another tool
                </button>
              </>
            ) : (
              <div className="grid grid-cols-2 gap-2">
                {TOOLS.map((t) => (
                  <button
                    key={t.tool_id}
                    type="button"
                    className="border-2 border-rule p-3 text-left hover:border-ink"
                    onClick={() => setTool(t)}
                  >
                    {t.tool_name}
                  </button>
                ))}
              </div>
            )}
            <p role="status" className="mt-3 font-bold">
              {said}
            </p>
            <button type="button" className="mt-2 min-h-[24px] underline" onClick={() => card(newMember())}>
              Next card
            </button>
          </>
        )}
      </main>
    </StandInFrame>
  );
};

export default Kiosk;
