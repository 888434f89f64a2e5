/** What the rows of a sheet are, for whoever has none yet. */
const TEXT: Readonly<Record<string, string>> = {
  event: 'What happens, and when it is sent. A question adds what it needs with one action, too.',
  property: 'What events carry: a type, a unit, allowed values. An event takes them in its own row.',
  userProperty: 'What is known of a person, such as a membership: set by sources, and registered where figures are grouped by it.',
  sharedSet: 'Properties that several events carry alike, kept in one place.',
  source: 'Where messages come from: a site, an app, a kiosk, a server. Each gets write keys of its own.',
  identifierKind: 'How a visit, a device or a person is told from others. Each source says which it carries.',
  definition: 'A name for what arrives already: views, interactions or other events, over all that was recorded.',
};

export const EmptySheetText = ({ sheet }: { sheet: string }) => TEXT[sheet] ?? 'Add the first row here.';
