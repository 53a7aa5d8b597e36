import { IsIn, IsInt, IsString } from 'class-validator';
import { IsName } from './decorators';

export class FileQuery {
  /** The name the file came with. */
  @IsName('The name of the file') name!: string;
}

/** Which files can be shown as pictures, and which are only given out again. */
export const PICTURE_TYPES = ['image/png', 'image/jpeg', 'image/gif', 'image/webp'] as const;

/** A file that Varn stores. */
export class FileView {
  @IsString() id!: string;
  /** Its name, made safe. */
  @IsString() name!: string;
  @IsString() type!: string;
  @IsInt() bytes!: number;
  /** Whether it is a picture or anything else. */
  @IsIn(['picture', 'document']) shownAs!: 'picture' | 'document';
}
