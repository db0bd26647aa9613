import {
  DataTypes,
  Model,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from "sequelize";
import type { DocumentKind } from "@/core/catalog";
import { over, serial } from "@/server/models/columns";

/** One version of a document of the catalogue; versions are never changed. */
export class CatalogueDocumentRow extends Model<
  InferAttributes<CatalogueDocumentRow>,
  InferCreationAttributes<CatalogueDocumentRow>
> {
  declare id: CreationOptional<number>;
  declare kind: DocumentKind;
  declare document_id: string;
  declare version: number;
  declare text: string;
  declare sha256: string;
  declare imported_by: string;
  declare imported_at: CreationOptional<Date>;
}

/** A document is taken out of use, or into it again: the newest row of it counts. */
export class DocumentStanding extends Model<
  InferAttributes<DocumentStanding>,
  InferCreationAttributes<DocumentStanding>
> {
  declare id: CreationOptional<number>;
  declare kind: string;
  declare document_id: string;
  declare used: boolean;
  declare reason: string;
  declare account: string;
  declare at: CreationOptional<Date>;
}

/** A view: documents whose newest standing is that they are not used. */
export class WithdrawnDocument extends Model<InferAttributes<WithdrawnDocument>> {
  declare kind: DocumentKind;
  declare document_id: string;
  declare reason: string;
  declare account: string;
  declare at: Date;
}

/** The pack in which a version came in. */
export class DocumentOrigin extends Model<InferAttributes<DocumentOrigin>, InferCreationAttributes<DocumentOrigin>> {
  declare id: CreationOptional<number>;
  declare catalogue_document_id: number;
  declare pack_sha256: string;
  declare family: string;
  declare made_at: Date;
  declare made_by: string;
  declare version_there: number;
  declare account: string;
  declare at: CreationOptional<Date>;
}

export class ImageRow extends Model<InferAttributes<ImageRow>, InferCreationAttributes<ImageRow>> {
  declare id: CreationOptional<number>;
  declare release_id: string;
  declare target: string;
  declare version: number;
  declare sha256: string;
  declare length_bytes: number;
  declare imported_by: string;
  declare imported_at: CreationOptional<Date>;
}

export const catalogue = { CatalogueDocumentRow, DocumentStanding, WithdrawnDocument, DocumentOrigin, ImageRow };

export function defineCatalogue(sequelize: Sequelize): void {
  const { BOOLEAN, DATE, INTEGER, TEXT } = DataTypes;
  CatalogueDocumentRow.init(
    {
      id: serial,
      kind: TEXT,
      document_id: TEXT,
      version: INTEGER,
      text: TEXT,
      sha256: TEXT,
      imported_by: TEXT,
      imported_at: DATE,
    },
    over(sequelize, "CatalogueDocumentRow", "catalogue_documents"),
  );
  DocumentStanding.init(
    { id: serial, kind: TEXT, document_id: TEXT, used: BOOLEAN, reason: TEXT, account: TEXT, at: DATE },
    over(sequelize, "DocumentStanding", "document_standings"),
  );
  WithdrawnDocument.init(
    {
      kind: { type: TEXT, primaryKey: true },
      document_id: { type: TEXT, primaryKey: true },
      reason: TEXT,
      account: TEXT,
      at: DATE,
    },
    over(sequelize, "WithdrawnDocument", "withdrawn_documents"),
  );
  DocumentOrigin.init(
    {
      id: serial,
      catalogue_document_id: INTEGER,
      pack_sha256: TEXT,
      family: TEXT,
      made_at: DATE,
      made_by: TEXT,
      version_there: INTEGER,
      account: TEXT,
      at: DATE,
    },
    over(sequelize, "DocumentOrigin", "document_origins"),
  );
  ImageRow.init(
    {
      id: serial,
      release_id: TEXT,
      target: TEXT,
      version: INTEGER,
      sha256: TEXT,
      length_bytes: INTEGER,
      imported_by: TEXT,
      imported_at: DATE,
    },
    over(sequelize, "ImageRow", "images"),
  );
}
