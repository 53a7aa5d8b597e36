import { Button, Field, Input, Stack, Text } from '@chakra-ui/react';
import { classValidatorResolver } from '@hookform/resolvers/class-validator';
import { SignIn, type DemoPerson, type SessionView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { useState } from 'react';
import { useForm } from 'react-hook-form';
import { request, sayError } from '../api/client';
import { Notice } from '../ui/Notice';

const resolver = classValidatorResolver(SignIn);

const DOES: Record<DemoPerson['role'], string> = {
  owner: 'analyst: sets up sheets and forms',
  analyst: 'analyst: sets up sheets and forms',
  clerk: 'clerk: enters records',
  reader: 'reader: looks on',
};

interface SignInFormProps {
  /** The people of the demo, where there are any. */
  readonly demoPeople: readonly DemoPerson[];
  readonly onSignedIn: (session: SessionView) => Promise<unknown>;
}

/** Address and password, and in the demo its people, one click each. */
export function SignInForm({ demoPeople, onSignedIn }: SignInFormProps) {
  const [failure, setFailure] = useState('');
  const { register, handleSubmit, formState } = useForm<SignIn>({
    resolver,
    mode: 'onTouched',
    defaultValues: { email: '', password: '' },
  });
  const enter = async (path: string, body: object): Promise<void> => {
    try {
      await onSignedIn(await request<SessionView>('POST', path, body));
    } catch (error) {
      setFailure(sayError(error));
    }
  };
  return (
    <>
      {demoPeople.length > 0 && (
        <Stack gap="2">
          <Text fontWeight="600">Try the demo as</Text>
          {demoPeople.map(({ id, name, role }, index) => (
            <Button
              key={id}
              variant={index === 0 ? 'solid' : 'outline'}
              justifyContent="space-between"
              onClick={() => void enter(paths.demoSession, { personId: id })}
            >
              <span>{name}</span>
              <Text as="span" fontWeight="400" fontSize="13px">
                {DOES[role]}
              </Text>
            </Button>
          ))}
        </Stack>
      )}
      <Stack asChild gap="4">
        <form
          noValidate
          onSubmit={(event) => void handleSubmit((data) => enter(paths.session, data))(event)}
        >
          {demoPeople.length > 0 && <Text fontWeight="600">or sign in</Text>}
          <Field.Root invalid={!!formState.errors.email}>
            <Field.Label>Mail address</Field.Label>
            <Input
              {...register('email')}
              type="email"
              autoComplete="username"
              enterKeyHint="next"
              borderColor="edge"
            />
            <Field.ErrorText>{formState.errors.email?.message}</Field.ErrorText>
          </Field.Root>
          <Field.Root invalid={!!formState.errors.password}>
            <Field.Label>Password</Field.Label>
            <Input
              enterKeyHint="go"
              {...register('password')}
              type="password"
              autoComplete="current-password"
              borderColor="edge"
            />
            <Field.ErrorText>{formState.errors.password?.message}</Field.ErrorText>
          </Field.Root>
          {failure && <Notice tone="refuse">{failure}</Notice>}
          <Button
            type="submit"
            variant={demoPeople.length > 0 ? 'outline' : 'solid'}
            alignSelf="start"
            loading={formState.isSubmitting}
          >
            Sign in
          </Button>
        </form>
      </Stack>
    </>
  );
}
