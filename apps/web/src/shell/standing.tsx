/** What keeps changes from being saved, where somebody has to say how to go on. */
import { UnstyledButton } from '@mantine/core';
import { useNavigate } from 'react-router';
import { api } from '../state/api.ts';
import { sayFailed } from '../state/notices.ts';
import { closeProject, useProject, useProjectPart } from '../state/project.ts';

export function Standing() {
  const save = useProject((s) => s.save);
  return save === 'behind' || save === 'removed' ? <HowToGoOn save={save} /> : null;
}

function HowToGoOn({ save }: { save: 'behind' | 'removed' }) {
  const { waiting, id, document } = useProjectPart('waiting', 'id', 'document');
  const go = useNavigate();
  if (!id || !document) return null;
  const kept = waiting === 0 ? '' : ` ${waiting === 1 ? 'One change waits' : `${waiting} changes wait`} here.`;
  const copy = async () => {
    try {
      const made = await api.createFromDocument({ ...document, name: `${document.name} copy`.slice(0, 200) });
      closeProject();
      await go(`/p/${made.id}/bench`);
    } catch (error) {
      sayFailed(`The copy was not made: ${(error as Error).message}`);
    }
  };
  const restore = () => api.restore(id).catch((error: Error) => sayFailed(`It was not brought back: ${error.message}`));
  return (
    <div className="standing" role="alert" data-standing={save}>
      <p>
        {save === 'behind'
          ? `The server has another state of this project than this window saw: it serves another data folder, or a backup was put back.${kept}`
          : `This project was removed in another window.${kept}`}
      </p>
      {save === 'removed' && (
        <UnstyledButton className="text-button" onClick={() => void restore()}>
          Bring it back
        </UnstyledButton>
      )}
      <UnstyledButton className="text-button" onClick={() => void copy()}>
        Work on as a copy
      </UnstyledButton>
      {save === 'behind' ? (
        <UnstyledButton className="text-button" onClick={() => window.location.reload()}>
          Reload what the server has
        </UnstyledButton>
      ) : (
        <UnstyledButton className="text-button" onClick={() => void go('/')}>
          To the projects
        </UnstyledButton>
      )}
    </div>
  );
}
