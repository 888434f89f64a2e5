/** The stand-in phone app: two screens in a phone's frame; without a network it keeps what it has to send. */
import { useEffect, useMemo, useRef, useState } from 'react';
import { BUTTON, hex, newMember, remembered, StandInFrame, useMember, useStandIn } from './parts';
import type { Outgoing } from './sender';
import { TOOLS, type Tool } from './tools';

const RELEASE = 'android 4.0.0';
const VIEW_MS = 5000;
const DESK_MS = 450;
const LOAN_DAYS = 3;

const FAULTS = [
  { id: 'hours', text: 'Sends the loan length in hours' },
  { id: 'swapped', text: 'Swaps name and value of the home branch' },
  { id: 'view', text: 'Sends “Signed In” whenever the account opens' },
  { id: 'unlinked', text: 'Leaves the device and anonymous ID out once signed in' },
  { id: 'offline', text: 'Has no network: sends later' },
] as const;
type FaultId = (typeof FAULTS)[number]['id'];

const PhoneApp = () => {
  const [member, setMember] = useMember();
  const [screen, setScreen] = useState<'shelf' | 'account'>('shelf');
  const [tool, setTool] = useState<Tool | undefined>();
  const [said, setSaid] = useState('');
  const { sent, senders, on, setOn, has } = useStandIn<FaultId>([
    { sourceId: 'app', release: RELEASE },
    { sourceId: 'backend', release: '2026.9' },
  ]);
  const [app, desk] = [senders[0]!, senders[1]!];
  const kept = useRef<Outgoing[]>([]);
  const [waiting, setWaiting] = useState(0);
  const ids = useMemo(
    () => ({ anonymous: remembered('phone-anonymous', () => `a-${hex(12)}`), device: remembered('phone-device', () => `d-${hex(12)}`) }),
    [],
  );
  const idsOf = (user: string | undefined): Record<string, string> => (user ? (has('unlinked') ? { user } : { ...ids, user }) : ids);
  const offline = has('offline');

  const send = async (m: Outgoing): Promise<void> => {
    if (!offline) return app.send(m);
    kept.current.push({ ...m, at: Date.now() });
    setWaiting(kept.current.length);
  };
  useEffect(() => {
    if (offline || kept.current.length === 0) return;
    const late = kept.current;
    kept.current = [];
    setWaiting(0);
    for (const m of late) void app.send(m);
  }, [offline, app]);

  const latest = useRef<(t: Tool) => void>(() => undefined);
  useEffect(() => {
    latest.current = (t) => void send({ name: 'Tool Viewed', ids: idsOf(member), properties: { ...t }, page: `tool/${t.tool_id}` });
  });
  useEffect(() => {
    if (!tool) return;
    const timer = setTimeout(() => latest.current(tool), VIEW_MS);
    return () => clearTimeout(timer);
  }, [tool]);

  const signedIn = (user: string): Promise<void> =>
    send({
      name: 'Signed In',
      ids: idsOf(user),
      properties: { sign_in_method: 'passkey' },
      user_properties: has('swapped') ? { Quayside: 'home_branch' } : { home_branch: 'Quayside' },
      page: 'account',
    });
  const openAccount = (): void => {
    setScreen('account');
    setTool(undefined);
    if (member && has('view')) void signedIn(member);
  };
  const signIn = (): void => {
    const user = newMember();
    setMember(user);
    void signedIn(user);
  };
  const reserve = async (t: Tool): Promise<void> => {
    const request_id = `r-${hex(8)}`;
    setSaid('Asking the desk …');
    await new Promise((answered) => setTimeout(answered, DESK_MS));
    await desk.send({
      name: 'Reservation Confirmed',
      ids: { user: member ?? `m-guest-${ids.anonymous}` },
      properties: { request_id, tool_id: t.tool_id, branch: t.branch },
    });
    await send({
      name: 'Reservation Requested',
      ids: idsOf(member),
      properties: { ...t, request_id, loan_days: has('hours') ? LOAN_DAYS * 24 : LOAN_DAYS },
      page: `tool/${t.tool_id}`,
    });
    setSaid('Reserved. Bring your card.');
  };
  const tab = (name: 'shelf' | 'account'): string =>
    `flex-1 py-2 ${screen === name ? 'border-t-4 border-ink font-bold' : 'border-t-4 border-transparent'}`;
  return (
    <StandInFrame title="on the phone" release={RELEASE} who={member ?? ids.device} faults={FAULTS} on={on} onFaults={setOn} sent={sent}>
      <main className="mx-auto my-3 flex h-[470px] w-[280px] flex-col overflow-hidden rounded-[28px] border-[6px] border-ink">
        <p className="flex justify-between px-5 py-1 text-sm">
          <span>Oddment</span>
          <span>{offline ? `no network${waiting > 0 ? `, ${waiting} kept` : ''}` : ''}</span>
        </p>
        <div className="min-h-0 flex-1 overflow-y-auto px-4">
          {screen === 'account' ? (
            <>
              <h1 className="mt-2 text-lg font-bold">Account</h1>
              <p className="mb-3 text-ink-2">{member ? `Signed in as ${member}.` : 'Nobody is signed in.'}</p>
              {member ? (
                <button
                  type="button"
                  className={BUTTON}
                  onClick={() => {
                    void send({ name: 'Signed Out', ids: idsOf(member), properties: {}, page: 'account' });
                    setMember(undefined);
                  }}
                >
                  Sign out
                </button>
              ) : (
                <button type="button" className={BUTTON} onClick={signIn}>
                  Sign in with a passkey
                </button>
              )}
            </>
          ) : tool ? (
            <>
              <button
                type="button"
                className="mt-2 min-h-[24px] underline"
                onClick={() => {
                  setTool(undefined);
                  setSaid('');
                }}
              >
                Back
              </button>
              <h1 className="text-lg font-bold">{tool.tool_name}</h1>
              <p className="mb-3 text-ink-2">
                {tool.branch}, deposit {(tool.deposit / 100).toFixed(2)} €
              </p>
              <button type="button" className={BUTTON} onClick={() => void reserve(tool)}>
                Reserve for {LOAN_DAYS} days
              </button>
              <p role="status" className="mt-2 font-bold">
                {said}
              </p>
            </>
          ) : (
            <ul>
              {TOOLS.map((t) => (
                <li key={t.tool_id} className="border-b border-rule">
                  <button type="button" className="w-full py-2.5 text-left" onClick={() => setTool(t)}>
                    <b className="block">{t.tool_name}</b>
                    <span className="text-sm text-ink-2">{t.branch}</span>
                  </button>
                </li>
              ))}
            </ul>
          )}
        </div>
        <nav aria-label="Screens" className="flex border-t border-rule">
          <button type="button" className={tab('shelf')} onClick={() => setScreen('shelf')}>
            Shelf
          </button>
          <button type="button" className={tab('account')} onClick={openAccount}>
            Account
          </button>
        </nav>
      </main>
    </StandInFrame>
  );
};

export default PhoneApp;
