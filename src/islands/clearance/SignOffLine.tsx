/** Who says that a question may be relied on, since when and on what ground; and how its signal went by day. */
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { ask } from '../../client/api';
import type { QuestionClearance } from '../../core/clearance/question-clearance';
import { type SignOff } from '../../core/clearance/sign-off';
import { whyNotSigned } from '../../core/clearance/sign-off-shown';
import { settingsOf } from '../../core/plan/plan';
import { Age } from '../../ui/Age';
import { Button } from '../../ui/Button';
import { dayText } from '../../ui/format';
import { Rich } from '../../ui/Rich';
import { toast } from '../../ui/toast';
import { useNow } from '../../ui/use-now';
import { authorName } from '../workplace/author';
import { usePlan } from '../workplace/context';
import { useSignOffs } from '../workplace/queries';
import { DayStrip } from './DayStrip';
import { WordForm } from './WordForm';

const Held = ({ s, timeZone }: { s: SignOff; timeZone: string }) => (
  <p>
    <b className="text-clear">Signed off</b> by {s.author}, <Age at={s.at} />, for version {s.version}
    {s.until === null ? '' : `, until ${dayText(s.until - 1, timeZone)}`}: {s.note}
  </p>
);

export const SignOffLine = ({ clearance }: { clearance: QuestionClearance }) => {
  const { questionId } = clearance;
  const { timeZone, weekStartsOn } = settingsOf(usePlan());
  const now = useNow();
  const queries = useQueryClient();
  const [form, setForm] = useState(false);
  const [all, setAll] = useState(false);
  const { data } = useSignOffs(questionId);
  if (!data) return null;
  const [newest, ...older] = data.signOffs;
  const holds = newest !== undefined && newest.fellAt === null;
  const why = whyNotSigned(clearance);
  const refresh = async (): Promise<void> => {
    setForm(false);
    await queries.invalidateQueries({ queryKey: ['clearance', 'sign-offs', questionId] });
  };
  const takeBack = (): void =>
    void ask('POST /api/sign-offs', { body: { questionId, withdraw: 'It is looked at again.', author: authorName() } }).then(
      refresh,
      (e: unknown) => toast.error((e as Error).message),
    );
  return (
    <section aria-label="Sign-off" className="py-2">
      <div className="flex flex-wrap items-baseline gap-x-3">
        <div className="min-w-0 flex-1">
          {!newest ? (
            <p className="text-ink-2">Nobody has signed it off{why === undefined ? '.' : '; it can be once no gate stops it or waits.'}</p>
          ) : null}
          {holds ? <Held s={newest} timeZone={timeZone} /> : null}
          {newest && !holds ? (
            <p>
              <b className="text-stop">Sign-off fell</b> <Age at={newest.fellAt!} />: <Rich text={newest.because ?? ''} />{' '}
              <span className="text-ink-2">
                ({newest.author} had signed it for version {newest.version}.)
              </span>
            </p>
          ) : null}
        </div>
        {older.length > 0 ? (
          <Button look="quiet" className="text-sm" aria-expanded={all} onClick={() => setAll(!all)}>
            {all ? 'Less' : `${older.length} before`}
          </Button>
        ) : null}
        {holds ? (
          <Button className="text-sm" onClick={takeBack}>
            Take it back
          </Button>
        ) : why === undefined && !form ? (
          <Button className="text-sm" onClick={() => setForm(true)}>
            {newest ? 'Sign it off anew …' : 'Sign it off …'}
          </Button>
        ) : null}
      </div>
      {form ? (
        <WordForm
          label="On what ground"
          placeholder="On what ground?"
          action="Sign off"
          needsDay={false}
          onClose={() => setForm(false)}
          onSend={(note, until) => ask('POST /api/sign-offs', { body: { questionId, note, until, author: authorName() } }).then(refresh)}
        />
      ) : null}
      {all
        ? older.map((s) => (
            <p key={s.id} className="text-sm text-ink-2">
              {s.author}, <Age at={s.at} />, version {s.version}: {s.note} <Rich text={s.because ?? ''} />
            </p>
          ))
        : null}
      <div className="mt-1.5">
        <DayStrip signals={data.signals} timeZone={timeZone} weekStartsOn={weekStartsOn} now={now} />
      </div>
    </section>
  );
};
