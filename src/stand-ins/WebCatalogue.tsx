/** The stand-in web catalogue: a small shop front that sends to the real intake, with switches for its faults. */
import { Drill, Hammer, Scissors, Tent, TreePine, Wrench, type LucideIcon } from 'lucide-react';
import { useEffect, useMemo, useRef, useState } from 'react';
import { Sender, type Sent } from './sender';
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

const hex = (digits: number): string => crypto.randomUUID().replaceAll('-', '').slice(0, digits);

const remembered = (key: string, make: () => string): string => {
  const known = sessionStorage.getItem(key);
  if (known) return known;
  const made = make();
  sessionStorage.setItem(key, made);
  return made;
};

const BUTTON = 'border-ink hover:bg-ink hover:text-paper border-2 px-3 py-1 font-bold disabled:opacity-50';

const WebCatalogue = () => {
  const [sent, setSent] = useState<readonly Sent[]>([]);
  const [faults, setFaults] = useState<ReadonlySet<FaultId>>(new Set());
  const [member, setMember] = useState<string | undefined>(() => sessionStorage.getItem('member') ?? undefined);
  const [tool, setTool] = useState<Tool | undefined>();
  const [pickup, setPickup] = useState('today');
  const [search, setSearch] = useState('');
  const [word, setWord] = useState('');
  const [reservation, setReservation] = useState<'no' | 'asking' | 'confirmed' | 'refused'>('no');
  const anonymous = useMemo(() => remembered('anonymous', () => `a-${hex(12)}`), []);
  const [web, desk] = useMemo(() => {
    const log = (s: Sent) => setSent((list) => [s, ...list].slice(0, 3));
    return [new Sender('web', RELEASE, log), new Sender('backend', '2026.9', log)];
  }, []);
  const has = (f: FaultId): boolean => faults.has(f);
  const idsOf = (user: string | undefined): Record<string, string> => ({
    anonymous,
    ...(user ? { user: has('template') ? '{{member_id}}' : user } : {}),
  });
  const carried = (t: Tool) => ({ ...t, deposit: has('text') ? String(t.deposit) : t.deposit });

  const latest = useRef<(t: Tool) => void>(() => undefined);
  latest.current = (t) =>
    void web.send({
      name: has('twin') ? 'Tool viewed' : 'Tool Viewed',
      ids: idsOf(member),
      properties: carried(t),
      page: `/tools/${t.tool_id}`,
    });
  useEffect(() => {
    if (!tool) return;
    const timer = setTimeout(() => latest.current(tool), VIEW_MS);
    return () => clearTimeout(timer);
  }, [tool]);

  const open = (t: Tool | undefined) => {
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
    const user = `m-9${Math.floor(Math.random() * 9000 + 1000)}`;
    sessionStorage.setItem('member', user);
    setMember(user);
    void web.send({ name: 'Signed In', ids: idsOf(user), properties: { sign_in_method: 'card' }, page: '/account' });
  };
  const signOut = () => {
    void web.send({ name: 'Signed Out', ids: idsOf(member), properties: {}, page: '/account' });
    sessionStorage.removeItem('member');
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

  return (
    <div className="min-h-dvh bg-paper text-[14px]">
      <div className="flex items-baseline gap-2 bg-ink px-4 py-2 text-paper">
        <b className="text-lg">Oddment</b> tool library
        <span className="ml-auto text-sm">stand-in, release {RELEASE}</span>
      </div>
      <div className="flex items-center gap-2 border-b border-rule px-4 py-1.5 text-sm">
        <span className="truncate wire" title="anonymous ID">
          {member ?? anonymous}
        </span>
        <button type="button" className="ml-auto underline" onClick={member ? signOut : signIn}>
          {member ? 'Sign out' : 'Sign in with a card'}
        </button>
      </div>
      {tool ? (
        <main className="px-4 py-4">
          <button type="button" className="underline" onClick={() => open(undefined)}>
            All tools
          </button>
          <h1 className="mt-2 text-xl font-bold">{tool.tool_name}</h1>
          <p className="text-ink-2">
            {tool.tool_category}, at {tool.branch}. Deposit {(tool.deposit / 100).toFixed(2)} €.
          </p>
          <p className="mt-1 text-sm text-ink-2">Looked at for five seconds, it counts as viewed.</p>
          <label className="mt-3 block font-bold">
            Collect it{' '}
            <select value={pickup} onChange={(e) => setPickup(e.target.value)} className="ml-1 border border-ink bg-paper px-1 font-normal">
              <option>today</option>
              <option>this week</option>
            </select>
          </label>
          <button type="button" className={`${BUTTON} mt-3`} disabled={reservation === 'asking'} onClick={() => void reserve(tool)}>
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
            {shown.length === 0 ? <li className="text-ink-2">Nothing of that name on the shelf.</li> : null}
          </ul>
        </main>
      )}
      <section aria-label="Faults" className="border-t-2 border-ink bg-ground px-4 py-3">
        <h2 className="font-bold">Faults of this stand-in</h2>
        {FAULTS.map((f) => (
          <label key={f.id} className="flex items-start gap-2 py-1 text-[0.93rem]">
            <input
              type="checkbox"
              className="mt-1 accent-accent"
              checked={faults.has(f.id)}
              onChange={(e) => {
                const next = new Set(faults);
                if (e.target.checked) next.add(f.id);
                else next.delete(f.id);
                setFaults(next);
              }}
            />
            {f.text}
          </label>
        ))}
        <div aria-live="polite" className="mt-2 min-h-16 border-t border-rule pt-2 text-sm">
          {sent.map((s, i) => (
            <p key={`${s.name} ${sent.length - i}`}>
              <span className="wire">{s.name}</span> {s.answer}
            </p>
          ))}
        </div>
      </section>
    </div>
  );
};

export default WebCatalogue;
