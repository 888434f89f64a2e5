/** What a new write key is for, and how much it may send. */
import { zodResolver } from '@hookform/resolvers/zod';
import { useForm } from 'react-hook-form';
import { z } from 'zod';
import { Button } from '../../ui/Button';
import { Cancel, OpenForm } from '../../ui/OpenForm';

const FIELD = 'border border-rule bg-transparent px-1 text-sm placeholder:text-ink-2';

const keyForm = z.object({
  label: z.string().trim().max(100, 'At most 100 characters.'),
  perMinute: z
    .string()
    .trim()
    .regex(/^(?:[1-9]\d{0,6})?$/, 'A whole number of messages, at most 9,999,999, or nothing for no limit.'),
});

interface Props {
  readonly onCreate: (label: string, perMinute: number | undefined) => Promise<void>;
  readonly onCancel: () => void;
}

export const NewKeyForm = ({ onCreate, onCancel }: Props) => {
  const { register, handleSubmit, formState } = useForm({
    resolver: zodResolver(keyForm),
    defaultValues: { label: '', perMinute: '' },
  });
  const problem = formState.errors.label?.message ?? formState.errors.perMinute?.message;
  return (
    <OpenForm
      onClose={onCancel}
      className="mt-2 flex flex-wrap items-center gap-2"
      onSubmit={(e) =>
        void handleSubmit(({ label, perMinute }) =>
          onCreate(label === '' ? 'created at Hand-off' : label, perMinute === '' ? undefined : Number(perMinute)),
        )(e)
      }
    >
      <input
        autoFocus
        aria-label="What the new key is for"
        placeholder="what it is for"
        autoComplete="off"
        className={`${FIELD} w-full`}
        {...register('label')}
      />
      <input
        inputMode="numeric"
        aria-label="Maximum messages a minute for the new key"
        placeholder="no limit"
        autoComplete="off"
        aria-invalid={formState.errors.perMinute !== undefined}
        className={`${FIELD} w-20`}
        {...register('perMinute')}
      />
      <span className="text-sm text-ink-2">messages a minute</span>
      {problem === undefined ? null : (
        <p role="alert" className="w-full text-sm text-stop">
          {problem}
        </p>
      )}
      <span className="flex gap-2">
        <Button type="submit" look="full" className="text-sm" disabled={formState.isSubmitting}>
          Create key
        </Button>
        <Cancel />
      </span>
    </OpenForm>
  );
};
