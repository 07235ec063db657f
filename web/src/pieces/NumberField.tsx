import { InputNumber, type InputNumberProps } from 'antd';

/** A number of a form; `empty` where nothing is entered. */
export const NumberField = ({
  empty = 0,
  onChange,
  ...field
}: Omit<InputNumberProps<number>, 'onChange'> & { empty?: number; onChange?: (value: number) => void }) => (
  <InputNumber<number> {...field} onChange={(value) => onChange?.(value ?? empty)} />
);
