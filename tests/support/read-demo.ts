import { demoDocuments } from "../../demo/documents";

demoDocuments();
