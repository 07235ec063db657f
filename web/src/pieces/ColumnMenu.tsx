import { SettingOutlined } from '@ant-design/icons';
import { Button, Checkbox, Popover } from 'antd';
import { leastWidth, type Columns } from './useColumns';
import styles from './table.module.css';
import ui from './ui.module.css';

const step = 24;

/** Chooses, orders and resizes the columns of a table, for keys as for the mouse. */
export function ColumnMenu<Row>({ columns, widthOf }: { columns: Columns<Row>; widthOf: (key: string) => number }) {
  const isShown = (key: string) => columns.shown.some((column) => column.key === key);
  const named = columns.ordered.filter((column) => column.title || column.name);
  const menu = (
    <div className={styles.columns} role="group" aria-label="Columns">
      {named.map((column, i) => {
        const name = column.name ?? column.title;
        const width = widthOf(column.key) || leastWidth(column.width);
        return (
          <div key={column.key} className={ui.line}>
            <Checkbox
              checked={isShown(column.key)}
              onChange={(event) => columns.show(column.key, event.target.checked)}
            >
              {name}
            </Checkbox>
            <span className={ui.gap} />
            <Button
              size="small"
              type="text"
              aria-label={`Move ${name} left`}
              disabled={i === 0}
              onClick={() => columns.moveBefore(column.key, named[i - 1]!.key)}
            >
              ↑
            </Button>
            <Button
              size="small"
              type="text"
              aria-label={`Move ${name} right`}
              disabled={i === named.length - 1}
              onClick={() => columns.moveBefore(column.key, named[i + 2]?.key)}
            >
              ↓
            </Button>
            <Button
              size="small"
              type="text"
              aria-label={`Make ${name} narrower`}
              disabled={!isShown(column.key)}
              onClick={() => columns.resize(column.key, width - step)}
            >
              −
            </Button>
            <Button
              size="small"
              type="text"
              aria-label={`Make ${name} wider`}
              disabled={!isShown(column.key)}
              onClick={() => columns.resize(column.key, width + step)}
            >
              +
            </Button>
          </div>
        );
      })}
      <p className={ui.second}>Columns also move by dragging their titles, and resize at the edge.</p>
      <Button size="small" disabled={!columns.isChanged} onClick={columns.reset}>
        Reset
      </Button>
    </div>
  );
  return (
    <Popover trigger="click" placement="bottomRight" content={menu}>
      <button type="button" className={styles.columnMenu} aria-label="Columns" title="Choose columns">
        <SettingOutlined />
      </button>
    </Popover>
  );
}
