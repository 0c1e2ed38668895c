import { ActionIcon, useMantineColorScheme } from '@mantine/core';
import { IconMoon, IconSun } from '@tabler/icons-react';

export function SchemeSwitch() {
  const { colorScheme, toggleColorScheme } = useMantineColorScheme();
  const night = colorScheme === 'dark';
  return (
    <ActionIcon
      variant="transparent"
      className="icon-button"
      onClick={toggleColorScheme}
      aria-label={night ? 'Change to day' : 'Change to night watch'}
      title={night ? 'Day' : 'Night watch'}
    >
      {night ? <IconSun size={18} /> : <IconMoon size={18} />}
    </ActionIcon>
  );
}
