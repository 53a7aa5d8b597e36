import { Type } from 'class-transformer';
import {
  IsArray,
  IsEmail,
  IsIn,
  IsNotEmpty,
  IsOptional,
  IsString,
  MaxLength,
  ValidateNested,
} from 'class-validator';
import { ROLES, type Role } from './roles';

export class SignIn {
  @IsEmail({}, { message: 'Write the address like name@place.example' })
  @MaxLength(254)
  email!: string;

  @IsString()
  @IsNotEmpty({ message: 'The password is missing' })
  @MaxLength(1000)
  password!: string;
}

/** Signing in with one click as a person of the demo; only a demo answers it. */
export class SignInToDemo {
  @IsString()
  @MaxLength(64)
  personId!: string;
}

export class Person {
  @IsString() id!: string;
  @IsString() name!: string;
  @IsString() email!: string;
}

export class DemoPerson extends Person {
  @IsIn(ROLES) role!: Role;
}

export class SessionView {
  /** Who is signed in; absent when nobody is. */
  @IsOptional() @ValidateNested() @Type(() => Person) person?: Person;
  /** Whom the demo offers on its sign-in page; empty elsewhere. */
  @IsArray() @ValidateNested({ each: true }) @Type(() => DemoPerson) demoPeople!: DemoPerson[];
}
