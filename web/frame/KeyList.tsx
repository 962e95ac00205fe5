import Dialog from '@mui/material/Dialog';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';

/** The keys that work, with what each does. */
export const KeyList = ({ keys, open, onClose }: { keys: readonly (readonly [key: string, what: string])[]; open: boolean; onClose: () => void }) => (
  <Dialog open={open} onClose={onClose}>
    <DialogTitle>Keys</DialogTitle>
    <DialogContent>
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
    </DialogContent>
  </Dialog>
);
