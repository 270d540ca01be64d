/** All before a path's last name, on either kind of system. */
export const folderOf = (path: string): string => path.replace(/[\\/][^\\/]*$/, '');
