/** Naming what one points at in a stand-in: the element's outline, words and place, how often it was used in all history, and a name for it. */
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useEffect, useState, type RefObject } from 'react';
import { ask } from '../../client/api';
import { likeOf, pressedElement } from '../../client/element-like';
import type { Definition } from '../../core/definitions/definition';
import { conditionsFor, elementOf, nameFor, type Element as Pressed } from '../../core/definitions/element';
import { blank } from '../../core/plan/defaults';
import { settingsOf } from '../../core/plan/plan';
import { Bars } from '../../ui/Bars';
import { Button } from '../../ui/Button';
import { count, dayText, plural } from '../../ui/format';
import { usePlan, useWorkplace } from '../workplace/context';
import { places } from '../workplace/place';

const OUTLINE = '3px solid #0b5563';
const SHOWN_DAYS = 56;
const SHOWN_TEXTS = 4;

/** Follows what the pointer, or the focus, is at in the page of a frame. What is pressed there does nothing meanwhile. */
const usePointed = (frame: RefObject<HTMLIFrameElement | null>): Pressed | undefined => {
  const [pointed, setPointed] = useState<Pressed>();
  useEffect(() => {
    const own = frame.current;
    if (!own) return;
    let outlined: HTMLElement | undefined;
    const clear = (): void => {
      if (outlined) outlined.style.outline = '';
      outlined = undefined;
    };
    const look = (e: Event): void => {
      const meant = pressedElement(e.target);
      if (!meant) return;
      clear();
      meant.style.outline = OUTLINE;
      outlined = meant;
      setPointed(elementOf(likeOf(meant)!));
    };
    const hold = (e: Event): void => {
      look(e);
      e.preventDefault();
      e.stopPropagation();
    };
    let document: Document | null = null;
    const listen = (): void => {
      document = own.contentDocument;
      document?.addEventListener('mouseover', look, true);
      document?.addEventListener('focusin', look, true);
      document?.addEventListener('click', hold, true);
    };
    listen();
    own.addEventListener('load', listen);
    return () => {
      own.removeEventListener('load', listen);
      document?.removeEventListener('mouseover', look, true);
      document?.removeEventListener('focusin', look, true);
      document?.removeEventListener('click', hold, true);
      clear();
    };
  }, [frame]);
  return pointed;
};

const Named = ({ pointed }: { pointed: Pressed }) => {
  const plan = usePlan();
  const { store, go } = useWorkplace();
  const { timeZone } = settingsOf(plan);
  const [typed, setTyped] = useState<string>();
  const name = typed ?? nameFor(pointed);
  const definition: Definition = {
    name,
    source: { of: 'interactions' },
    where: { match: 'all', conditions: conditionsFor(pointed), groups: [] },
    changes: [],
  };
  const { data, error } = useQuery({
    queryKey: ['definition-preview', 'pointed', definition.where],
    queryFn: ({ signal }) => ask('POST /api/definition-preview', { body: { definition } }, signal),
    placeholderData: keepPreviousData,
  });
  const keep = (): void => {
    const id = crypto.randomUUID();
    const body = blank('definition', { ...definition });
    if (store.apply([{ op: 'create', kind: 'definition', id, body }], `Definition ${name}`)) go(...places.opened('definition', id));
  };
  const besides = data?.byText.filter((t) => t.value !== pointed.text) ?? [];
  return (
    <>
      <p>
        <b>{pointed.text || 'No words'}</b> <span className="text-ink-2">{pointed.role}</span>
      </p>
      <p className="truncate wire text-sm text-ink-2" title={pointed.place}>
        {pointed.place}
      </p>
      {error ? <p role="alert">{error.message}</p> : null}
      {data ? (
        <>
          <p className="mt-1 flex items-end gap-2">
            <b className="figures">{count(data.messages)}</b>
            <span className="text-sm text-ink-2">{`times, by ${plural(data.persons, 'person', 'persons')}, in all history`}</span>
          </p>
          {data.messages > 0 ? (
            <Bars
              bars={data.days
                .slice(-SHOWN_DAYS)
                .map((d) => ({ value: d.messages, title: `${dayText(d.at, timeZone)} ${count(d.messages)}` }))}
              label="Times each day"
              width={5}
              running
            />
          ) : null}
          {besides.length > 0 ? (
            <p className="text-sm text-caution">
              It would take besides:{' '}
              {
                besides
                  .slice(0, SHOWN_TEXTS)
                  .map((t) => `“${t.value || 'no words'}” ${count(t.messages)}`)
                  .join(', ') /* prettier-ignore */
              }
            </p>
          ) : null}
        </>
      ) : null}
      <form
        className="mt-2 flex gap-2"
        onSubmit={(e) => {
          e.preventDefault();
          keep();
        }}
      >
        <input
          aria-label="Name of the definition"
          value={name}
          onChange={(e) => setTyped(e.target.value)}
          className="min-w-0 flex-1 border border-rule bg-paper px-2 wire"
        />
        <Button type="submit" look="full" disabled={name.trim() === ''}>
          Name it
        </Button>
      </form>
    </>
  );
};

export const PointAt = ({ frame }: { frame: RefObject<HTMLIFrameElement | null> }) => {
  const pointed = usePointed(frame);
  return (
    <section aria-label="What is pointed at" className="border-t border-ink bg-ground px-3 py-2" aria-live="polite">
      {pointed ? (
        <Named key={JSON.stringify(pointed)} pointed={pointed} />
      ) : (
        <p className="text-ink-2">Point at a button or a link above, or move the focus to it. Nothing is sent meanwhile.</p>
      )}
    </section>
  );
};
