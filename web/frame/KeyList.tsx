import Dialog from '@mui/material/Dialog';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';

type Keys = readonly (readonly [key: string, what: string])[];

/** Keys with what each does. */
export const KeyTable = ({ keys }: { keys: Keys }) => (
  <table>
    <tbody>
      {keys.map(([key, what]) => (
        <tr key={key}>
          <td className="mono" style={{ padding: '3px 18px 3px 0' }}>
            {key}
          </td>
          <td>{what}</td>
        </tr>
      ))}
    </tbody>
  </table>
);

/** The keys that work, in a dialog of their own. */
export const KeyList = ({ keys, open, onClose }: { keys: Keys; open: boolean; onClose: () => void }) => (
  <Dialog open={open} onClose={onClose}>
    <DialogTitle>Keys</DialogTitle>
    <DialogContent>
      <KeyTable keys={keys} />
    </DialogContent>
  </Dialog>
);
