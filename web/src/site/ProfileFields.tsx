import { Form, Input } from 'antd';
import ui from '../pieces/ui.module.css';

/** The fields of a form that say which site a project is about, and in which market. */
export const ProfileFields = () => (
  <>
    <Form.Item name="host" label="Domain; several with commas between, or a folder: fenwater.example/shop">
      <Input placeholder="fenwater.example" />
    </Form.Item>
    <Form.Item name="name" label="Name of the project">
      <Input placeholder="the domain, if left empty" maxLength={200} />
    </Form.Item>
    <Form.Item name="country" label="Country, two letters">
      <Input maxLength={2} className={ui.narrow} />
    </Form.Item>
    <Form.Item name="language" label="Language, two letters">
      <Input maxLength={2} className={ui.narrow} />
    </Form.Item>
  </>
);
