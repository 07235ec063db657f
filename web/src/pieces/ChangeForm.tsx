import { Button, Form } from 'antd';
import { useId, useState, type ReactNode } from 'react';
import { ApiError } from '../api/client';
import { useFormChange } from '../api/hooks';
import { focusList } from '../app/keys';
import { useCanChange } from '../team/session';
import ui from './ui.module.css';

/**
 * A form that makes one change. Fields are Ant Design's `Form.Item`, named as in the body of the request: what the
 * server refuses is told beside the field that it names, above the buttons where the form has no such field, and in
 * the tally bar where it names none.
 */
export function ChangeForm<TValues extends object, TAnswer>({
  values,
  change,
  done,
  act,
  acts,
  isReady = () => true,
  isBlocked = false,
  isPlain = false,
  isLine = false,
  isSmall = false,
  isRead = false,
  tellsAll = false,
  clears = [],
  close,
  below,
  children,
}: {
  /** What the fields hold at first. For others give the form another `key`. */
  values: TValues;
  change: (values: TValues) => Promise<TAnswer>;
  done?: (answer: TAnswer) => string | undefined;
  /** The label of the button that makes the change. */
  act: ReactNode | ((values: TValues) => ReactNode);
  /** What else stands beside that button. */
  acts?: ReactNode;
  /** Whether there is something to send. */
  isReady?: (values: TValues) => boolean;
  /** The change cannot be made now, whatever the fields hold. */
  isBlocked?: boolean;
  /** The change is not what the pane is for, so that its button is a plain one. */
  isPlain?: boolean;
  /** Fields and buttons in one line. */
  isLine?: boolean;
  isSmall?: boolean;
  /** It asks, or changes what is the user's own, so that readers may do it too. */
  isRead?: boolean;
  /** There is no tally bar: whatever is refused is told above the buttons. */
  tellsAll?: boolean;
  /** Fields that are as they were at first again when the change is made. */
  clears?: readonly (keyof TValues & string)[];
  /** Escape closes the form and gives the keys back to the list. */
  close?: () => void;
  /** What the fields lead to, below the buttons; `set` changes some of them. */
  below?: (values: TValues, set: (some: Partial<TValues>) => void) => ReactNode;
  children?: ReactNode | ((values: TValues) => ReactNode);
}) {
  const [form] = Form.useForm<TValues>();
  const name = useId();
  const all = () => form.getFieldsValue(true) as TValues;
  const [now, setNow] = useState(values);
  const saving = useFormChange(change, (answer) => {
    form.resetFields([...clears] as never);
    setNow(all());
    return done?.(answer);
  });
  const refusal =
    saving.error instanceof ApiError && (tellsAll || saving.error.field !== undefined) ? saving.error : undefined;
  // Ant Design gives the control of a field the names of form and field for its id.
  const hasField = (field: string | undefined) =>
    field !== undefined && document.getElementById(`${name}_${field}`) !== null;
  const mayNot = !useCanChange() && !isRead;
  const send = () => {
    if (saving.isPending || isBlocked || mayNot || !isReady(all())) return;
    saving.mutate(all(), {
      onError: (error) => {
        if (error instanceof ApiError && error.field !== undefined && hasField(error.field))
          form.setFields([{ name: error.field as never, errors: [error.message] }]);
      },
    });
  };
  const button = (
    <Button
      type={isPlain ? 'default' : 'primary'}
      htmlType="submit"
      disabled={isBlocked || mayNot || !isReady(now)}
      title={mayNot ? 'You can read this project, and a planner can change it.' : undefined}
      loading={saving.isPending}
    >
      {typeof act === 'function' ? act(now) : act}
    </Button>
  );
  return (
    <Form<TValues>
      form={form}
      name={name}
      layout={isLine ? 'inline' : 'vertical'}
      requiredMark={false}
      initialValues={values}
      className={isLine ? ui.inline : ui.form}
      {...(isSmall && { size: 'small' as const })}
      // A refusal is about what was sent, so it goes when that is changed.
      onValuesChange={(changed: object) => {
        form.setFields(Object.keys(changed).map((field) => ({ name: field as never, errors: [] })));
        if (saving.isError) saving.reset();
        setNow(all());
      }}
      onFinish={send}
      onKeyDown={(event) => {
        if (event.key !== 'Escape' || !close) return;
        close();
        focusList();
      }}
    >
      {typeof children === 'function' ? children(now) : children}
      {refusal && !hasField(refusal.field) && (
        <div role="alert" className={ui.fault}>
          {refusal.message}
        </div>
      )}
      {isLine ? (
        <>
          {button}
          {acts}
        </>
      ) : (
        <div className={ui.acts}>
          {button}
          {acts}
        </div>
      )}
      {below?.(now, (some) => {
        form.setFieldsValue(some as never);
        setNow(all());
      })}
    </Form>
  );
}
