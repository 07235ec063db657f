import { Popover, Radio } from 'antd';
import { prefer, usePreferences, type Preferences } from './preferences';
import styles from './shell.module.css';

const themes = [
  { value: 'system', label: 'As the system' },
  { value: 'light', label: 'Light' },
  { value: 'dark', label: 'Dark' },
];
const densities = [
  { value: 'dense', label: 'Dense' },
  { value: 'regular', label: 'Regular' },
  { value: 'roomy', label: 'Roomy' },
];

/** Colours and density. */
export function ViewMenu() {
  const preferences = usePreferences();
  return (
    <Popover
      trigger="click"
      placement="bottomRight"
      content={
        <div className={styles.preferences}>
          <h3 id="theme">Colours</h3>
          <Radio.Group
            aria-labelledby="theme"
            options={themes}
            value={preferences.theme}
            onChange={(event) => prefer({ theme: event.target.value as Preferences['theme'] })}
          />
          <h3 id="density">Rows</h3>
          <Radio.Group
            aria-labelledby="density"
            options={densities}
            value={preferences.density}
            onChange={(event) => prefer({ density: event.target.value as Preferences['density'] })}
          />
        </div>
      }
    >
      <button title="Colours and density">View</button>
    </Popover>
  );
}
