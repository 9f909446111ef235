import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useState, type ReactNode } from 'react';
import { SIGNED_OUT } from '../api/client';
import { useSession, useSignIn } from '../api/session';
import { Button } from './Button';
import { useTheme } from './theme';

/** Lets nobody further who has not given the password, where the server asks for one. */
export function Gate({ children }: { children: ReactNode }) {
  const client = useQueryClient();
  const { data, isPending } = useSession();
  useEffect(() => {
    // The server has been started anew, or the session has ended.
    const out = () => void client.invalidateQueries({ queryKey: ['session'] });
    window.addEventListener(SIGNED_OUT, out);
    return () => window.removeEventListener(SIGNED_OUT, out);
  }, [client]);
  if (isPending) {
    return <main />;
  }
  return data?.right === 'NONE' ? <SignIn /> : children;
}

function SignIn() {
  const [password, setPassword] = useState('');
  const signIn = useSignIn();
  useTheme();
  return (
    <main className="grid h-full grid-rows-[64px_minmax(0,1fr)] bg-well">
      <div className="flex items-center border-b border-line bg-up px-5">
        <span className="text-[15px] font-[640] [font-stretch:118%]">Posada</span>
      </div>
      <form
        className="w-80 self-center justify-self-center"
        onSubmit={(e) => {
          e.preventDefault();
          signIn.mutate(password);
        }}
      >
        <h1 className="big mb-2">Sign in</h1>
        <p className="mb-5 text-t2">This server asks for a password.</p>
        <label className="block text-t2">
          Password
          <input
            type="password"
            autoComplete="current-password"
            autoFocus
            className="fig mt-1.5 block h-9 w-full border-b border-line bg-transparent text-t1"
            value={password}
            onChange={(e) => setPassword(e.target.value)}
          />
        </label>
        <p role="alert" className="min-h-11 py-2.5">
          {signIn.error && (
            <>
              <span className="mr-2 font-semibold text-bad">Not signed in</span>
              {signIn.error.message}
            </>
          )}
        </p>
        <Button main type="submit" disabled={password === '' || signIn.isPending}>
          Sign in
        </Button>
      </form>
    </main>
  );
}
