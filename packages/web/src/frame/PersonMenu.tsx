import { Menu, Portal } from '@chakra-ui/react';
import type { ReactNode } from 'react';
import { Link, useParams } from 'react-router';
import { useWorkbook } from '../api/resources';
import { addresses, workbookPlaces } from '../addresses';

interface PersonMenuProps {
  /** The button that opens it. */
  readonly children: ReactNode;
  readonly onSignOut: () => void;
}

/** The way out; on a phone the contents of the workbook too. It is open when it first stands here. */
export default function PersonMenu({ children, onSignOut }: PersonMenuProps) {
  const { workbookId } = useParams();
  const { data: workbook } = useWorkbook(workbookId);
  return (
    <Menu.Root positioning={{ placement: 'bottom-end' }} defaultOpen>
      <Menu.Trigger asChild>{children}</Menu.Trigger>
      <Portal>
        <Menu.Positioner>
          <section aria-label="More">
            <Menu.Content bg="leaf">
              {workbook && (
                <Menu.ItemGroup hideFrom="md">
                  <Menu.Item value="contents" fontWeight="600" asChild>
                    <Link to={addresses.contents(workbook.id)}>{workbook.name}</Link>
                  </Menu.Item>
                </Menu.ItemGroup>
              )}
              {workbook?.sheets.map((sheet) => (
                <Menu.ItemGroup key={sheet.id} hideFrom="md">
                  <Menu.Item value={sheet.id} asChild>
                    <Link to={addresses.sheet(workbook.id, sheet.id)}>{sheet.name}</Link>
                  </Menu.Item>
                  {sheet.forms.map((form) => (
                    <Menu.Item key={form.id} value={form.id} ps="6" asChild>
                      <Link to={addresses.desk(workbook.id, form.id)}>{form.name}</Link>
                    </Menu.Item>
                  ))}
                </Menu.ItemGroup>
              ))}
              {workbook && (
                <Menu.ItemGroup hideFrom="md">
                  {workbookPlaces(workbook.role).map(({ label, to }) => (
                    <Menu.Item key={label} value={label} asChild>
                      <Link to={to(workbook.id)}>{label}</Link>
                    </Menu.Item>
                  ))}
                </Menu.ItemGroup>
              )}
              <Menu.Item value="workbooks" asChild>
                <Link to={addresses.workbooks}>Workbooks</Link>
              </Menu.Item>
              <Menu.Item value="out" onClick={onSignOut}>
                Sign out
              </Menu.Item>
            </Menu.Content>
          </section>
        </Menu.Positioner>
      </Portal>
    </Menu.Root>
  );
}
