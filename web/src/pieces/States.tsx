import { Button, Spin } from 'antd';
import type { ReactNode } from 'react';
import ui from './ui.module.css';

/** Nothing here yet: what to do next. */
export const NotYet = ({ title, children }: { title: string; children: ReactNode }) => (
  <div className={ui.empty}>
    <h2>{title}</h2>
    {children}
  </div>
);

/** Something went wrong: what, and a way to try again. */
export const Failed = ({ error, retry, children }: { error: Error; retry: () => void; children?: ReactNode }) => (
  <div className={ui.empty} role="alert">
    <h2 className={ui.clay}>Couldn’t load this</h2>
    <p>{error.message}</p>
    <div className={ui.acts}>
      <Button onClick={retry}>Try again</Button>
      {children}
    </div>
  </div>
);

/** Still on its way. */
export const Reading = () => (
  <div className={ui.empty}>
    <Spin size="small" /> Reading…
  </div>
);
