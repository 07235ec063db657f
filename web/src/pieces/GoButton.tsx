import { Button } from 'antd';
import type { ReactNode } from 'react';
import { useNavigate } from 'react-router';

/** The next step of an empty stage, which is on another one. */
export function GoButton({ to, children }: { to: string; children: ReactNode }) {
  const navigate = useNavigate();
  return (
    <Button type="primary" onClick={() => void navigate(to)}>
      {children}
    </Button>
  );
}
