/** Cases that ship with the bench: each a sequence of messages that people get wrong. */
import type { CaseStep, IdentityCase } from '../plan/plan';
import { fourMessageCase } from './rehearsal';

interface Names {
  readonly viewed: string;
  readonly started: string;
  readonly completed: string;
}

const event = (title: string, name: string, source: string, ids: CaseStep['ids']): CaseStep => ({
  title,
  kind: 'event',
  name,
  source,
  ids,
});

/** The cases, told with these names of events; `persons` is what the default rules give. `signOut` ends a stretch where the rules name it. */
export const benchCases = (names: Names, signOut = 'Signed Out'): IdentityCase[] => {
  const { viewed, started, completed } = names;
  return [
    {
      id: 'four',
      title: 'The four-message case',
      asks: 'A visitor starts to join under an anonymous ID; the server completes it under a new user ID; the client goes on as before.',
      steps: fourMessageCase(names, false),
      persons: 2,
    },
    {
      id: 'four-identified',
      title: 'The same, and the client identifies',
      asks: 'After the sign-up the client says once which anonymous ID the user ID belongs to.',
      steps: fourMessageCase(names, true),
      persons: 1,
    },
    {
      id: 'second-device',
      title: 'A second device',
      asks: 'The same member on the web and on the phone; a third device never signs in.',
      steps: [
        event('Looks around on the web', viewed, 'web', { anonymous: 'a-1' }),
        event('Signs in there', 'Signed In', 'web', { anonymous: 'a-1', user: 'm-7' }),
        event('Signs in on the phone', 'Signed In', 'app', { device: 'd-1', user: 'm-7' }),
        event('Goes on there', viewed, 'app', { device: 'd-1' }),
        event('A third device', viewed, 'app', { device: 'd-9' }),
      ],
      persons: 2,
    },
    {
      id: 'late-sign-in',
      title: 'A late sign-in',
      asks: 'Days under an anonymous ID, then a sign-in: do the days before belong to the member?',
      steps: [
        event('First day', viewed, 'web', { anonymous: 'a-4' }),
        event('Second day', viewed, 'web', { anonymous: 'a-4' }),
        event('Signs in', 'Signed In', 'web', { anonymous: 'a-4', user: 'm-4' }),
        event('Goes on', started, 'web', { anonymous: 'a-4', user: 'm-4' }),
      ],
      persons: 1,
    },
    {
      id: 'shared-kiosk',
      title: 'A shared kiosk',
      asks: 'Four members, one after another, at a device that sends its own ID with everybody.',
      steps: [
        ...['m-1', 'm-2', 'm-3', 'm-4'].map((user) => event(`${user} signs in`, 'Signed In', 'kiosk', { device: 'kiosk-1', user })),
        event('The last one borrows', completed, 'kiosk', { device: 'kiosk-1' }),
        event('Signs out', signOut, 'kiosk', { device: 'kiosk-1' }),
        event('Somebody looks around', viewed, 'kiosk', { device: 'kiosk-1' }),
      ],
      persons: 4,
    },
    {
      id: 'two-users',
      title: 'Two members on one phone',
      asks: 'One signs out, another signs in on the same device: whose are the messages between?',
      steps: [
        event('The first signs in', 'Signed In', 'app', { device: 'd-2', user: 'm-1' }),
        event('Looks around', viewed, 'app', { device: 'd-2' }),
        event('Signs out', signOut, 'app', { device: 'd-2', user: 'm-1' }),
        event('Between the two', viewed, 'app', { device: 'd-2' }),
        event('The second signs in', 'Signed In', 'app', { device: 'd-2', user: 'm-2' }),
        event('Looks around', viewed, 'app', { device: 'd-2' }),
      ],
      persons: 2,
    },
    {
      id: 'placeholder',
      title: 'An unfilled template',
      asks: 'Two visitors whose client sends the user ID as a template that nobody filled in.',
      steps: [
        event('The first visitor', viewed, 'web', { anonymous: 'a-5', user: '{{member_id}}' }),
        event('The second visitor', viewed, 'web', { anonymous: 'a-6', user: '{{member_id}}' }),
      ],
      persons: 2,
    },
    {
      id: 'id-change',
      title: 'A user ID that changes',
      asks: 'The e-mail address was the user ID; the member changes it.',
      steps: [
        event('Signs in', 'Signed In', 'web', { anonymous: 'a-8', user: 'ada@example.org' }),
        event('Changes the address', completed, 'web', { anonymous: 'a-8', user: 'ada@example.net' }),
        event('Signs in elsewhere', 'Signed In', 'app', { device: 'd-8', user: 'ada@example.net' }),
      ],
      persons: 2,
    },
  ];
};
