import { MatButton } from '@angular/material/button';
import { MatDialogActions, MatDialogClose, MatDialogContent, MatDialogTitle } from '@angular/material/dialog';

/** What every dialog's template is made of. */
export const DIALOG_PARTS = [MatButton, MatDialogActions, MatDialogClose, MatDialogContent, MatDialogTitle] as const;
