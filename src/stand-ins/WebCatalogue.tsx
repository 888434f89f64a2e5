/** The stand-in web catalogue: a small shop front that sends to the real intake, with switches for its faults. */
import { Drill, Hammer, Scissors, Tent, TreePine, Wrench, type LucideIcon } from 'lucide-react';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import type { Element } from '../core/definitions/element';
import { BUTTON, hex, newMember, remembered, StandInFrame, useMember, useStandIn } from './parts';
import { TOOLS, type Tool } from './tools';

const RELEASE = '9.0.0';
const VIEW_MS = 5000;
const DESK_MS = 450;

const FAULTS = [
  { id: 'press', text: 'Sends “Reservation Requested” on the press' },
  { id: 'refuse', text: 'The desk refuses reservations' },
  { id: 'text', text: 'Sends the deposit as text' },
  { id: 'twin', text: 'Sends “Tool viewed” instead of “Tool Viewed”' },
  { id: 'template', text: 'Sends the member ID as an unfilled template' },
  { id: 'double', text: 'Sends “Tool Viewed” twice' },
  { id: 'again', text: 'Sends parts of a guide again when going back and forth' },
  { id: 'rules', text: 'Takes the house rules for a guide' },
] as const;
type FaultId = (typeof FAULTS)[number]['id'];

const ICONS: Record<string, LucideIcon> = {
  drills: Drill,
  ladders: Hammer,
  'sewing machines': Scissors,
  tents: Tent,
  saws: Wrench,
  garden: TreePine,
};

const WebCatalogue = () => {
  const [member, setMember] = useMember();
  const [tool, setTool] = useState<Tool | undefined>();
  const [pickup, setPickup] = useState('today');
  const [search, setSearch] = useState('');
  const [word, setWord] = useState('');
  const [reservation, setReservation] = useState<'no' | 'asking' | 'confirmed' | 'refused'>('no');
  const anonymous = useMemo(() => remembered('anonymous', () => `a-${hex(12)}`), []);
  const { sent, senders, on, setOn, has } = useStandIn<FaultId>([
    { sourceId: 'web', release: RELEASE },
    { sourceId: 'backend', release: '2026.9' },
  ]);
  const [web, desk] = [senders[0]!, senders[1]!];
  const idsOf = (user: string | undefined): Record<string, string> => ({
    anonymous,
    ...(user ? { user: has('template') ? '{{member_id}}' : user } : {}),
  });
  const carried = (t: Tool) => ({ ...t, deposit: has('text') ? String(t.deposit) : t.deposit });

  const latest = useRef<(t: Tool) => void>(() => undefined);
  useEffect(() => {
    latest.current = (t) => {
      for (let n = 0; n < (has('double') ? 2 : 1); n++)
        void web.send({
          name: has('twin') ? 'Tool viewed' : 'Tool Viewed',
          ids: idsOf(member),
          properties: carried(t),
          page: `/tools/${t.tool_id}`,
        });
    };
  });
  useEffect(() => {
    if (!tool) return;
    const timer = setTimeout(() => latest.current(tool), VIEW_MS);
    return () => clearTimeout(timer);
  }, [tool]);

  /** Parts of the guide that were in view, of four; `undefined` while none is open. */
  const [guide, setGuide] = useState<{ readonly is: 'guide' | 'rules'; readonly part: number } | undefined>();
  const read = (is: 'guide' | 'rules', part: number): void => {
    setGuide({ is, part });
    const page = is === 'guide' ? `/guides/${tool?.tool_category ?? 'drills'}` : '/rules';
    if (part === 0) return void web.send({ kind: 'view', ids: idsOf(member), page });
    if (is === 'rules' && !has('rules')) return;
    const guide_share = part * 25;
    void web.send({
      name: 'Guide Read',
      ids: idsOf(member),
      properties: { guide_share, tool_category: tool?.tool_category ?? 'drills' },
      page,
      ...(has('again') ? {} : { oncePerView: `Guide Read ${guide_share}` }),
    });
  };

  const open = (t: Tool | undefined) => {
    setGuide(undefined);
    setTool(t);
    setReservation('no');
  };
  const shown = TOOLS.filter((t) => `${t.tool_name} ${t.tool_category} ${t.branch}`.toLowerCase().includes(search.toLowerCase()));

  const lookUp = () => {
    setSearch(word);
    const results = TOOLS.filter((t) => t.tool_name.toLowerCase().includes(word.toLowerCase())).length;
    void web.send({
      name: 'Catalogue Searched',
      ids: idsOf(member),
      properties: { query_length: word.length, result_count: results, branch: 'Quayside' },
      page: '/search',
    });
  };

  const signIn = () => {
    const user = newMember();
    setMember(user);
    void web.send({ name: 'Signed In', ids: idsOf(user), properties: { sign_in_method: 'card' }, page: '/account' });
  };
  const signOut = () => {
    void web.send({ name: 'Signed Out', ids: idsOf(member), properties: {}, page: '/account' });
    setMember(undefined);
  };

  const reserve = async (t: Tool) => {
    const request_id = `r-${hex(8)}`;
    const requested = () =>
      web.send({
        name: 'Reservation Requested',
        ids: idsOf(member),
        properties: { ...carried(t), request_id, loan_days: 3, pickup },
        page: `/tools/${t.tool_id}`,
      });
    setReservation('asking');
    if (has('press')) void requested();
    await new Promise((answered) => setTimeout(answered, DESK_MS));
    if (has('refuse')) {
      setReservation('refused');
      return;
    }
    await desk.send({
      name: 'Reservation Confirmed',
      ids: { user: member ?? `m-guest-${anonymous}` },
      properties: { request_id, tool_id: t.tool_id, branch: t.branch },
    });
    if (!has('press')) await requested();
    setReservation('confirmed');
  };

  const told = useRef<(e: Element) => void>(() => undefined);
  useEffect(() => {
    told.current = (element) =>
      void web.send({
        kind: 'interaction',
        ids: idsOf(member),
        properties: { element: { ...element } },
        page: tool ? `/tools/${tool.tool_id}` : '/tools',
      });
  });
  const pressed = useCallback((e: Element) => told.current(e), []);

  return (
    <StandInFrame
      title="tool library"
      release={RELEASE}
      who={member ?? anonymous}
      action={
        <button type="button" className="underline" onClick={member ? signOut : signIn}>
          {member ? 'Sign out' : 'Sign in with a card'}
        </button>
      }
      faults={FAULTS}
      on={on}
      onFaults={setOn}
      sent={sent}
      onPressed={pressed}
    >
      {guide ? (
        <main className="px-4 py-4">
          <button type="button" className="underline" onClick={() => setGuide(undefined)}>
            Close
          </button>
          <h1 className="mt-2 text-xl font-bold">{guide.is === 'guide' ? 'Safety guide' : 'House rules'}</h1>
          <p className="my-2 text-ink-2">Part {guide.part} of 4.</p>
          <span className="flex gap-2">
            <button
              type="button"
              className={BUTTON}
              disabled={guide.part === 0}
              onClick={() => read(guide.is, Math.max(1, guide.part - 1))}
            >
              Back
            </button>
            <button type="button" className={BUTTON} disabled={guide.part === 4} onClick={() => read(guide.is, guide.part + 1)}>
              Next part
            </button>
          </span>
        </main>
      ) : tool ? (
        <main className="px-4 py-4">
          <button type="button" className="underline" onClick={() => open(undefined)}>
            All tools
          </button>
          <h1 className="mt-2 text-xl font-bold">{tool.tool_name}</h1>
          <p className="text-ink-2">
            {tool.tool_category}, at {tool.branch}. Deposit {(tool.deposit / 100).toFixed(2)} €.
          </p>
          <p className="mt-1 text-sm text-ink-2">Looked at for five seconds, it counts as viewed.</p>
          <p className="mt-1 flex gap-4">
            <button type="button" className="min-h-[24px] underline" onClick={() => read('guide', 0)}>
              Safety guide
            </button>
            <button type="button" className="min-h-[24px] underline" onClick={() => read('rules', 0)}>
              House rules
            </button>
          </p>
          <label className="mt-3 block font-bold">
            Collect it{' '}
            <select value={pickup} onChange={(e) => setPickup(e.target.value)} className="ml-1 border border-ink bg-paper px-1 font-normal">
              <option>today</option>
              <option>this week</option>
            </select>
          </label>
          <button
            type="button"
            data-part="reserve"
            className={`${BUTTON} mt-3`}
            disabled={reservation === 'asking'}
            onClick={() => void reserve(tool)}
          >
            Reserve for 3 days
          </button>
          <p role="status" className="mt-2 font-bold">
            {
              { no: '', asking: 'Asking the desk …', confirmed: 'It is yours. Bring your card.', refused: 'The desk refused: it is out.' }[
                reservation
              ]
            }
          </p>
        </main>
      ) : (
        <main className="px-4 py-3">
          <form
            className="flex gap-2"
            onSubmit={(e) => {
              e.preventDefault();
              lookUp();
            }}
          >
            <input
              aria-label="Search the tools"
              value={word}
              onChange={(e) => setWord(e.target.value)}
              placeholder="drill, tent …"
              className="min-w-0 flex-1 border border-ink bg-paper px-2 placeholder:text-ink-2"
            />
            <button type="submit" className={BUTTON}>
              Search
            </button>
          </form>
          <ul className="mt-3 grid grid-cols-2 gap-2">
            {shown.map((t) => {
              const Icon = ICONS[t.tool_category] ?? Wrench;
              return (
                <li key={t.tool_id}>
                  <button
                    type="button"
                    onClick={() => open(t)}
                    className="flex h-full w-full flex-col gap-1 border border-rule p-2.5 text-left hover:border-ink"
                  >
                    <Icon size={22} strokeWidth={1.4} aria-hidden />
                    <b className="leading-tight">{t.tool_name}</b>
                    <span className="text-sm text-ink-2">{t.branch}</span>
                  </button>
                </li>
              );
            })}
            {shown.length === 0 ? <li className="text-ink-2">No tools match.</li> : null}
          </ul>
        </main>
      )}
    </StandInFrame>
  );
};

export default WebCatalogue;
