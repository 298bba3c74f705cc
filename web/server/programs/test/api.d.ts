/** Made by "npm run generate" from the description for programs. */
export interface paths {
    "/api/v1/openapi.json": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** This description */
        get: operations["getOpenapiJson"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/v1/elements.schema.json": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** JSON Schema of all elements */
        get: operations["getElementsSchemaJson"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/v1/projects": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** Projects that one may look at */
        get: operations["getProjects"];
        put?: never;
        /** A new project from a file of any format that can be read */
        post: operations["postProjects"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/v1/projects/{id}": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** What a project is called and what it holds */
        get: operations["getProjectsId"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/v1/projects/{id}/elements": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** Elements of a project, page by page, by their ids */
        get: operations["getProjectsIdElements"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/v1/projects/{id}/changes": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** Steps after a revision */
        get: operations["getProjectsIdChanges"];
        put?: never;
        /** Changes, all or none, as one step of the history */
        post: operations["postProjectsIdChanges"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/v1/projects/{id}/imports": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** What a file would bring into the project; stored where that is asked */
        post: operations["postProjectsIdImports"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/v1/projects/{id}/export": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** The project as a file */
        get: operations["getProjectsIdExport"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/v1/projects/{id}/sheets": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** Setting sheets: what is issued, what is under way */
        get: operations["getProjectsIdSheets"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/v1/projects/{id}/sheets/{sheet}": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** One setting sheet as it was issued; "draft-" and a device for a draft */
        get: operations["getProjectsIdSheetsSheet"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/v1/projects/{id}/studies/faults": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Study: fault currents */
        post: operations["studyFaults"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/v1/projects/{id}/studies/around": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Study: most and least currents in the branches around faults */
        post: operations["studyAround"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/v1/projects/{id}/studies/flow": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Study: load flow */
        post: operations["studyFlow"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/v1/projects/{id}/studies/outages": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Study: every single outage of the load flow */
        post: operations["studyOutages"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/v1/projects/{id}/studies/ratings": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Study: duties against ratings over conditions */
        post: operations["studyRatings"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/v1/projects/{id}/studies/direct": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Study: voltages and short-circuit currents of direct current */
        post: operations["studyDirect"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/v1/projects/{id}/studies/arc": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Study: arc energy, boundaries and clothing at every busbar */
        post: operations["studyArc"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/v1/projects/{id}/studies/earth": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Study: what of an earth fault goes into the grid of a station */
        post: operations["studyEarth"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/v1/projects/{id}/studies/circuits": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Study: low-voltage circuits: what they carry, how soon they are cut off, what would do */
        post: operations["studyCircuits"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/v1/projects/{id}/studies/boards": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Study: boards: how they feed each other, ratings of their busbars, bill of material */
        post: operations["studyBoards"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/v1/projects/{id}/studies/matrix": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Study: sequence admittance matrix, Matrix Market form */
        post: operations["studyMatrix"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/v1/projects/{id}/studies/grading": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Study: pairs of devices, margins, deciding conditions */
        post: operations["studyGrading"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/v1/projects/{id}/studies/directions": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Study: currents ahead and backward, who needs a direction */
        post: operations["studyDirections"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/v1/projects/{id}/studies/propose": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Study: settings by the rulebook, with conflicts */
        post: operations["studyPropose"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/v1/projects/{id}/studies/reach": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Study: distance zones by the rulebook, with what decided */
        post: operations["studyReach"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/v1/projects/{id}/studies/coverage": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Study: which faults along lines distance relays clear */
        post: operations["studyCoverage"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/v1/projects/{id}/studies/package": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Study: the protection of one line, both margins of every element */
        post: operations["studyPackage"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/v1/projects/{id}/studies/differential": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Study: what differential protection sees inside and bears outside */
        post: operations["studyDifferential"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/v1/projects/{id}/studies/trial": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Study: a fault played until nothing more happens */
        post: operations["studyTrial"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/v1/projects/{id}/studies/search": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Study: all faults played and judged, what goes wrong by its cause */
        post: operations["studySearch"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/v1/projects/{id}/studies/curve": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Study: points of the curve of a device */
        post: operations["studyCurve"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/v1/projects/{id}/studies/verify": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Study: all checks over all conditions */
        post: operations["studyVerify"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/v1/projects/{id}/studies/sheet": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Study: setting sheets: drafts of a file, issued ones of a running server */
        post: operations["studySheet"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/v1/projects/{id}/studies/batch": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Study: a list of studies that is kept in the project, answered as one table */
        post: operations["studyBatch"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/v1/projects/{id}/studies/script": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** Study: a script that is kept in the project, or one in a file, run against it */
        post: operations["studyScript"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/v1/jobs": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** One’s own jobs, the newest first */
        get: operations["getJobs"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/v1/jobs/{job}": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** How far a job is */
        get: operations["getJobsJob"];
        put?: never;
        post?: never;
        /** Cancels a job */
        delete: operations["deleteJobsJob"];
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/v1/jobs/{job}/result": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** What a job has computed, in the form that was asked for */
        get: operations["getJobsJobResult"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/v1/formulas": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        /** Published formulas that can be computed by themselves */
        get: operations["getFormulas"];
        put?: never;
        post?: never;
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
    "/api/v1/formulas/{formula}": {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        get?: never;
        put?: never;
        /** One formula, from plain numbers (47 there are) */
        post: operations["postFormulasFormula"];
        delete?: never;
        options?: never;
        head?: never;
        patch?: never;
        trace?: never;
    };
}
export type webhooks = Record<string, never>;
export interface components {
    schemas: never;
    responses: {
        /** @description A problem document (RFC 9457) */
        problem: {
            headers: {
                [name: string]: unknown;
            };
            content: {
                "application/problem+json": {
                    type: string;
                    title: string;
                    status: number;
                    detail: string;
                    /** @description the last word of the type, for programs */
                    code: string;
                } & {
                    [key: string]: unknown;
                };
            };
        };
    };
    parameters: never;
    requestBodies: never;
    headers: never;
    pathItems: never;
}
export type $defs = Record<string, never>;
export interface operations {
    getOpenapiJson: {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description OpenAPI 3.1 */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        openapi: string;
                    } & {
                        [key: string]: unknown;
                    };
                };
            };
            default: components["responses"]["problem"];
        };
    };
    getElementsSchemaJson: {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description JSON Schema */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        [key: string]: unknown;
                    };
                };
            };
            default: components["responses"]["problem"];
        };
    };
    getProjects: {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description the last changed first */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        projects: {
                            id: string;
                            name: string;
                            notes: string;
                            revision: number;
                            /** Format: date-time */
                            updatedAt: string;
                            elements: number;
                            sheets: number;
                        }[];
                    };
                };
            };
            default: components["responses"]["problem"];
        };
    };
    postProjects: {
        parameters: {
            query: {
                /** @description name of the file */
                name: string;
            };
            header?: never;
            path?: never;
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/octet-stream": string;
            };
        };
        responses: {
            /** @description it is stored */
            201: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        id: string;
                        report: {
                            format: string;
                            /** @description what the file brings, by kind */
                            found: {
                                what: string;
                                count: number;
                            }[];
                            entries: {
                                key: string;
                                kind: string;
                                name: string;
                                /** @enum {string} */
                                what: "new" | "changed" | "rewired" | "gone";
                                differences: {
                                    field: string;
                                    before: string;
                                    after: string;
                                }[];
                                /** @description taken where nothing else is asked */
                                usual: boolean;
                            }[];
                            notes: string[];
                            /** @description what the file does not say and was assumed */
                            assumed: string[];
                            /** @description what the file says and nothing came of */
                            left: string[];
                            /** @description changes that come of what is taken */
                            changes: number;
                        } | null;
                    };
                };
            };
            default: components["responses"]["problem"];
        };
    };
    getProjectsId: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                id: string;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description its head */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        id: string;
                        name: string;
                        notes: string;
                        revision: number;
                        /** @description how many of each kind */
                        elements: {
                            [key: string]: number;
                        };
                    };
                };
            };
            default: components["responses"]["problem"];
        };
    };
    getProjectsIdElements: {
        parameters: {
            query?: {
                /** @description of this kind alone */
                kind?: "bus" | "switch" | "currentTransformer" | "voltageTransformer" | "connection" | "networkFeeder" | "line" | "transformer" | "threeWindingTransformer" | "seriesReactor" | "synchronousMachine" | "powerStationUnit" | "asynchronousMotor" | "staticDrive" | "converterSource" | "doublyFedMachine" | "load" | "shunt" | "earthingTransformer" | "earthingSwitch" | "battery" | "rectifier" | "directMotor" | "directCapacitor" | "directLoad" | "directCable" | "tower" | "lineCoupling" | "relay" | "gradingChart" | "linePackage" | "trial" | "batch" | "script" | "earthStudy" | "condition" | "libraryEntry" | "rulebook" | "textNote" | "panel" | "chartPicture" | "page" | "projectSettings";
                /** @description go on after this id */
                after?: string;
                limit?: number;
            };
            header?: never;
            path: {
                id: string;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description a page */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        revision: number;
                        elements: ({
                            id: string;
                            kind: string;
                        } & {
                            [key: string]: unknown;
                        })[];
                        /** @description id to go on after; null at the end */
                        next: string | null;
                    };
                };
            };
            default: components["responses"]["problem"];
        };
    };
    getProjectsIdChanges: {
        parameters: {
            query?: {
                /** @description a revision */
                since?: number;
            };
            header?: never;
            path: {
                id: string;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description steps; null where they are too many: read the elements anew */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        batches: ({
                            revision: number;
                        } & {
                            [key: string]: unknown;
                        })[] | null;
                    };
                };
            };
            default: components["responses"]["problem"];
        };
    };
    postProjectsIdChanges: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                id: string;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": {
                    /** @description made by the client: a batch that is sent twice is applied once */
                    batchId: string;
                    /** @description the revision that the changes were made on */
                    baseRevision: number;
                    /** @description how the step is called in the history */
                    label: string;
                    /** @enum {string} */
                    origin: "edit" | "undo" | "redo";
                    clients?: string[];
                    /** @description only where nobody signs in */
                    author?: string;
                    changes: ({
                        /** @constant */
                        op: "add";
                        /** @description an element, by /api/v1/elements.schema.json */
                        element: {
                            id: string;
                            kind: string;
                        } & {
                            [key: string]: unknown;
                        };
                    } | {
                        /** @constant */
                        op: "update";
                        /** @description an element, by /api/v1/elements.schema.json */
                        element: {
                            id: string;
                            kind: string;
                        } & {
                            [key: string]: unknown;
                        };
                    } | {
                        /** @constant */
                        op: "remove";
                        id: string;
                    })[];
                };
            };
        };
        responses: {
            /** @description stored */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        revision: number;
                    } & {
                        [key: string]: unknown;
                    };
                };
            };
            default: components["responses"]["problem"];
        };
    };
    postProjectsIdImports: {
        parameters: {
            query: {
                /** @description name of the file */
                name: string;
                /** @description beside: everything as new */
                mode?: "merge" | "beside";
                /** @description groups of entries that are taken, of new, changed, rewired, gone; the usual ones where it is left out */
                take?: string;
                /** @description whether it is stored, as one step that can be taken back; otherwise only told */
                store?: "true" | "false";
            };
            header?: never;
            path: {
                id: string;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/octet-stream": string;
            };
        };
        responses: {
            /** @description the report */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        report: {
                            format: string;
                            /** @description what the file brings, by kind */
                            found: {
                                what: string;
                                count: number;
                            }[];
                            entries: {
                                key: string;
                                kind: string;
                                name: string;
                                /** @enum {string} */
                                what: "new" | "changed" | "rewired" | "gone";
                                differences: {
                                    field: string;
                                    before: string;
                                    after: string;
                                }[];
                                /** @description taken where nothing else is asked */
                                usual: boolean;
                            }[];
                            notes: string[];
                            /** @description what the file does not say and was assumed */
                            assumed: string[];
                            /** @description what the file says and nothing came of */
                            left: string[];
                            /** @description changes that come of what is taken */
                            changes: number;
                        };
                        stored: boolean;
                        revision: number;
                    };
                };
            };
            default: components["responses"]["problem"];
        };
    };
    getProjectsIdExport: {
        parameters: {
            query?: {
                as?: "project" | "tables" | "types" | "powerFlow" | "cim" | "scl";
            };
            header?: never;
            path: {
                id: string;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description the file; what the format has no room for is told in the head "mesura-left", in percent-encoding */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/octet-stream": string;
                };
            };
            default: components["responses"]["problem"];
        };
    };
    getProjectsIdSheets: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                id: string;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description the register */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        sheets: ({
                            id: number;
                            number: number;
                            digest: string;
                            sound: boolean;
                        } & {
                            [key: string]: unknown;
                        })[];
                    } & {
                        [key: string]: unknown;
                    };
                };
            };
            default: components["responses"]["problem"];
        };
    };
    getProjectsIdSheetsSheet: {
        parameters: {
            query?: {
                as?: "json" | "pdf" | "xlsx";
            };
            header?: never;
            path: {
                id: string;
                sheet: string;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description the sheet */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": unknown;
                };
            };
            default: components["responses"]["problem"];
        };
    };
    studyFaults: {
        parameters: {
            query?: never;
            header?: {
                /** @description wait=SECONDS (up to 60): answers with the ended job when it ends within */
                prefer?: string;
            };
            path: {
                id: string;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": {
                    /** @default {} */
                    options?: {
                        /** @description conditions by name or identifier, or maximum, minimum */
                        condition?: string[];
                        /**
                         * @description the condition by its sources alone
                         * @enum {string}
                         */
                        case?: "max" | "min";
                        /** @description switches taken as open */
                        open?: string[];
                        /** @description switches taken as closed */
                        close?: string[];
                        /** @description elements out of service */
                        out?: string[];
                        /** @description lines out of service and earthed at both ends */
                        earthed?: string[];
                        /**
                         * @description how faults are computed
                         * @enum {string}
                         */
                        method?: "iec60909" | "c37" | "superposition";
                        /**
                         * @description method of IEC 60909-0 for the peak
                         * @enum {string}
                         */
                        peak?: "equivalentFrequency" | "smallestRatio" | "ratioAtPlace";
                        /**
                         * @description line capacitances in the zero sequence
                         * @enum {string}
                         */
                        charging?: "auto" | "always" | "never";
                        /** @description voltage before the fault, percent */
                        prefault?: number;
                        /**
                         * @description how IEEE C37.010 divides
                         * @enum {string}
                         */
                        current?: "E/X" | "E/Z";
                        /**
                         * @description kind of fault
                         * @enum {string}
                         */
                        kind?: "3ph" | "2ph" | "2phE" | "1ph" | "all";
                        /**
                         * @description faulted phase of 1ph, sound phase of 2ph and 2phE
                         * @enum {string}
                         */
                        odd?: "L1" | "L2" | "L3";
                        /** @description ohms in each faulted phase, resistance */
                        phaseR?: number;
                        /** @description ohms in each faulted phase, reactance */
                        phaseX?: number;
                        /** @description ohms from their common point to earth, resistance */
                        earthR?: number;
                        /** @description ohms from their common point to earth, reactance */
                        earthX?: number;
                        /** @description minimum time delay of the breaking current, s */
                        breaking?: number;
                        /** @description duration of the fault, s */
                        duration?: number;
                        /** @description contact parting, cycles */
                        parting?: number;
                        /** @description S factor of the breaker */
                        s?: number;
                        /** @description busbars */
                        at?: string[];
                        /** @description places along lines, LINE:PERCENT; of "earth" a line */
                        along?: string[];
                        /** @description ends of lines whose breaker there is open, LINE:1 or LINE:2 */
                        end?: string[];
                        /** @description once more without each of these */
                        outage?: string[];
                        /** @description faults at once, KIND[/PHASE]@PLACE */
                        fault?: string[];
                        /** @description broken conductors, ELEMENT:TERMINAL/PHASES */
                        break?: string[];
                        /** @description what else is shown */
                        show?: string[];
                        /** @description columns of a table, separated by commas */
                        columns?: string;
                        /** @description values for this run alone, ELEMENT.FIELD=VALUES; several make a grid of cases */
                        set?: string[];
                    };
                    /**
                     * @default json
                     * @enum {string}
                     */
                    format?: "json" | "csv" | "table" | "pdf" | "xlsx" | "junit";
                };
            };
        };
        responses: {
            /** @description the job has ended */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        id: string;
                        project: string;
                        study: string;
                        format: string;
                        /** @enum {string} */
                        state: "waiting" | "running" | "done" | "failed" | "cancelled";
                        /** @description how much is done */
                        share: number;
                        /** @description revision of the project that was computed */
                        revision: number | null;
                        /** @description 0 done, 1 nothing computed, 2 options wrong, 3 computed, and something does not hold */
                        code: number | null;
                        notes: string;
                        /** Format: date-time */
                        createdAt: string;
                        endedAt: string | null;
                    };
                };
            };
            /** @description the job is under way */
            202: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        id: string;
                        project: string;
                        study: string;
                        format: string;
                        /** @enum {string} */
                        state: "waiting" | "running" | "done" | "failed" | "cancelled";
                        /** @description how much is done */
                        share: number;
                        /** @description revision of the project that was computed */
                        revision: number | null;
                        /** @description 0 done, 1 nothing computed, 2 options wrong, 3 computed, and something does not hold */
                        code: number | null;
                        notes: string;
                        /** Format: date-time */
                        createdAt: string;
                        endedAt: string | null;
                    };
                };
            };
            default: components["responses"]["problem"];
        };
    };
    studyAround: {
        parameters: {
            query?: never;
            header?: {
                /** @description wait=SECONDS (up to 60): answers with the ended job when it ends within */
                prefer?: string;
            };
            path: {
                id: string;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": {
                    /** @default {} */
                    options?: {
                        /** @description conditions by name or identifier, or maximum, minimum */
                        condition?: string[];
                        /**
                         * @description the condition by its sources alone
                         * @enum {string}
                         */
                        case?: "max" | "min";
                        /** @description switches taken as open */
                        open?: string[];
                        /** @description switches taken as closed */
                        close?: string[];
                        /** @description elements out of service */
                        out?: string[];
                        /** @description lines out of service and earthed at both ends */
                        earthed?: string[];
                        /**
                         * @description how faults are computed
                         * @enum {string}
                         */
                        method?: "iec60909" | "c37" | "superposition";
                        /**
                         * @description method of IEC 60909-0 for the peak
                         * @enum {string}
                         */
                        peak?: "equivalentFrequency" | "smallestRatio" | "ratioAtPlace";
                        /**
                         * @description line capacitances in the zero sequence
                         * @enum {string}
                         */
                        charging?: "auto" | "always" | "never";
                        /** @description voltage before the fault, percent */
                        prefault?: number;
                        /**
                         * @description how IEEE C37.010 divides
                         * @enum {string}
                         */
                        current?: "E/X" | "E/Z";
                        /**
                         * @description kind of fault
                         * @enum {string}
                         */
                        kind?: "3ph" | "2ph" | "2phE" | "1ph" | "all";
                        /**
                         * @description faulted phase of 1ph, sound phase of 2ph and 2phE
                         * @enum {string}
                         */
                        odd?: "L1" | "L2" | "L3";
                        /** @description ohms in each faulted phase, resistance */
                        phaseR?: number;
                        /** @description ohms in each faulted phase, reactance */
                        phaseX?: number;
                        /** @description ohms from their common point to earth, resistance */
                        earthR?: number;
                        /** @description ohms from their common point to earth, reactance */
                        earthX?: number;
                        /** @description busbars */
                        at?: string[];
                        /** @description places along lines, LINE:PERCENT; of "earth" a line */
                        along?: string[];
                        /** @description ends of lines whose breaker there is open, LINE:1 or LINE:2 */
                        end?: string[];
                        /** @description nearest branches of each place */
                        branches?: number;
                        /**
                         * @description also with each of the branches out
                         * @enum {string}
                         */
                        outages?: "on" | "off";
                        /** @description columns of a table, separated by commas */
                        columns?: string;
                        /** @description values for this run alone, ELEMENT.FIELD=VALUES; several make a grid of cases */
                        set?: string[];
                    };
                    /**
                     * @default json
                     * @enum {string}
                     */
                    format?: "json" | "csv" | "table" | "pdf" | "xlsx" | "junit";
                };
            };
        };
        responses: {
            /** @description the job has ended */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        id: string;
                        project: string;
                        study: string;
                        format: string;
                        /** @enum {string} */
                        state: "waiting" | "running" | "done" | "failed" | "cancelled";
                        /** @description how much is done */
                        share: number;
                        /** @description revision of the project that was computed */
                        revision: number | null;
                        /** @description 0 done, 1 nothing computed, 2 options wrong, 3 computed, and something does not hold */
                        code: number | null;
                        notes: string;
                        /** Format: date-time */
                        createdAt: string;
                        endedAt: string | null;
                    };
                };
            };
            /** @description the job is under way */
            202: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        id: string;
                        project: string;
                        study: string;
                        format: string;
                        /** @enum {string} */
                        state: "waiting" | "running" | "done" | "failed" | "cancelled";
                        /** @description how much is done */
                        share: number;
                        /** @description revision of the project that was computed */
                        revision: number | null;
                        /** @description 0 done, 1 nothing computed, 2 options wrong, 3 computed, and something does not hold */
                        code: number | null;
                        notes: string;
                        /** Format: date-time */
                        createdAt: string;
                        endedAt: string | null;
                    };
                };
            };
            default: components["responses"]["problem"];
        };
    };
    studyFlow: {
        parameters: {
            query?: never;
            header?: {
                /** @description wait=SECONDS (up to 60): answers with the ended job when it ends within */
                prefer?: string;
            };
            path: {
                id: string;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": {
                    /** @default {} */
                    options?: {
                        /** @description conditions by name or identifier, or maximum, minimum */
                        condition?: string[];
                        /**
                         * @description the condition by its sources alone
                         * @enum {string}
                         */
                        case?: "max" | "min";
                        /** @description switches taken as open */
                        open?: string[];
                        /** @description switches taken as closed */
                        close?: string[];
                        /** @description elements out of service */
                        out?: string[];
                        /** @description lines out of service and earthed at both ends */
                        earthed?: string[];
                        /**
                         * @description taps hold voltages, reactive limits are heeded
                         * @enum {string}
                         */
                        control?: "on" | "off";
                        /** @description loads at a share of their power, ELEMENT:PERCENT */
                        scale?: string[];
                        /** @description the motor that starts */
                        start?: string;
                        /** @description line current of its start over that of direct starting */
                        reduction?: number;
                        /** @description what else is shown */
                        show?: string[];
                        /** @description columns of a table, separated by commas */
                        columns?: string;
                        /** @description values for this run alone, ELEMENT.FIELD=VALUES; several make a grid of cases */
                        set?: string[];
                    };
                    /**
                     * @default json
                     * @enum {string}
                     */
                    format?: "json" | "csv" | "table" | "pdf" | "xlsx" | "junit";
                };
            };
        };
        responses: {
            /** @description the job has ended */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        id: string;
                        project: string;
                        study: string;
                        format: string;
                        /** @enum {string} */
                        state: "waiting" | "running" | "done" | "failed" | "cancelled";
                        /** @description how much is done */
                        share: number;
                        /** @description revision of the project that was computed */
                        revision: number | null;
                        /** @description 0 done, 1 nothing computed, 2 options wrong, 3 computed, and something does not hold */
                        code: number | null;
                        notes: string;
                        /** Format: date-time */
                        createdAt: string;
                        endedAt: string | null;
                    };
                };
            };
            /** @description the job is under way */
            202: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        id: string;
                        project: string;
                        study: string;
                        format: string;
                        /** @enum {string} */
                        state: "waiting" | "running" | "done" | "failed" | "cancelled";
                        /** @description how much is done */
                        share: number;
                        /** @description revision of the project that was computed */
                        revision: number | null;
                        /** @description 0 done, 1 nothing computed, 2 options wrong, 3 computed, and something does not hold */
                        code: number | null;
                        notes: string;
                        /** Format: date-time */
                        createdAt: string;
                        endedAt: string | null;
                    };
                };
            };
            default: components["responses"]["problem"];
        };
    };
    studyOutages: {
        parameters: {
            query?: never;
            header?: {
                /** @description wait=SECONDS (up to 60): answers with the ended job when it ends within */
                prefer?: string;
            };
            path: {
                id: string;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": {
                    /** @default {} */
                    options?: {
                        /** @description conditions by name or identifier, or maximum, minimum */
                        condition?: string[];
                        /**
                         * @description the condition by its sources alone
                         * @enum {string}
                         */
                        case?: "max" | "min";
                        /** @description switches taken as open */
                        open?: string[];
                        /** @description switches taken as closed */
                        close?: string[];
                        /** @description elements out of service */
                        out?: string[];
                        /** @description lines out of service and earthed at both ends */
                        earthed?: string[];
                        /** @description what else is shown */
                        show?: string[];
                        /** @description columns of a table, separated by commas */
                        columns?: string;
                        /** @description values for this run alone, ELEMENT.FIELD=VALUES; several make a grid of cases */
                        set?: string[];
                    };
                    /**
                     * @default json
                     * @enum {string}
                     */
                    format?: "json" | "csv" | "table" | "pdf" | "xlsx" | "junit";
                };
            };
        };
        responses: {
            /** @description the job has ended */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        id: string;
                        project: string;
                        study: string;
                        format: string;
                        /** @enum {string} */
                        state: "waiting" | "running" | "done" | "failed" | "cancelled";
                        /** @description how much is done */
                        share: number;
                        /** @description revision of the project that was computed */
                        revision: number | null;
                        /** @description 0 done, 1 nothing computed, 2 options wrong, 3 computed, and something does not hold */
                        code: number | null;
                        notes: string;
                        /** Format: date-time */
                        createdAt: string;
                        endedAt: string | null;
                    };
                };
            };
            /** @description the job is under way */
            202: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        id: string;
                        project: string;
                        study: string;
                        format: string;
                        /** @enum {string} */
                        state: "waiting" | "running" | "done" | "failed" | "cancelled";
                        /** @description how much is done */
                        share: number;
                        /** @description revision of the project that was computed */
                        revision: number | null;
                        /** @description 0 done, 1 nothing computed, 2 options wrong, 3 computed, and something does not hold */
                        code: number | null;
                        notes: string;
                        /** Format: date-time */
                        createdAt: string;
                        endedAt: string | null;
                    };
                };
            };
            default: components["responses"]["problem"];
        };
    };
    studyRatings: {
        parameters: {
            query?: never;
            header?: {
                /** @description wait=SECONDS (up to 60): answers with the ended job when it ends within */
                prefer?: string;
            };
            path: {
                id: string;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": {
                    /** @default {} */
                    options?: {
                        /** @description conditions by name or identifier, or maximum, minimum */
                        condition?: string[];
                        /**
                         * @description the condition by its sources alone
                         * @enum {string}
                         */
                        case?: "max" | "min";
                        /** @description what else is shown */
                        show?: string[];
                        /** @description columns of a table, separated by commas */
                        columns?: string;
                        /** @description values for this run alone, ELEMENT.FIELD=VALUES; several make a grid of cases */
                        set?: string[];
                    };
                    /**
                     * @default json
                     * @enum {string}
                     */
                    format?: "json" | "csv" | "table" | "pdf" | "xlsx" | "junit";
                };
            };
        };
        responses: {
            /** @description the job has ended */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        id: string;
                        project: string;
                        study: string;
                        format: string;
                        /** @enum {string} */
                        state: "waiting" | "running" | "done" | "failed" | "cancelled";
                        /** @description how much is done */
                        share: number;
                        /** @description revision of the project that was computed */
                        revision: number | null;
                        /** @description 0 done, 1 nothing computed, 2 options wrong, 3 computed, and something does not hold */
                        code: number | null;
                        notes: string;
                        /** Format: date-time */
                        createdAt: string;
                        endedAt: string | null;
                    };
                };
            };
            /** @description the job is under way */
            202: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        id: string;
                        project: string;
                        study: string;
                        format: string;
                        /** @enum {string} */
                        state: "waiting" | "running" | "done" | "failed" | "cancelled";
                        /** @description how much is done */
                        share: number;
                        /** @description revision of the project that was computed */
                        revision: number | null;
                        /** @description 0 done, 1 nothing computed, 2 options wrong, 3 computed, and something does not hold */
                        code: number | null;
                        notes: string;
                        /** Format: date-time */
                        createdAt: string;
                        endedAt: string | null;
                    };
                };
            };
            default: components["responses"]["problem"];
        };
    };
    studyDirect: {
        parameters: {
            query?: never;
            header?: {
                /** @description wait=SECONDS (up to 60): answers with the ended job when it ends within */
                prefer?: string;
            };
            path: {
                id: string;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": {
                    /** @default {} */
                    options?: {
                        /** @description conditions by name or identifier, or maximum, minimum */
                        condition?: string[];
                        /**
                         * @description the condition by its sources alone
                         * @enum {string}
                         */
                        case?: "max" | "min";
                        /** @description what else is shown */
                        show?: string[];
                        /** @description columns of a table, separated by commas */
                        columns?: string;
                        /** @description values for this run alone, ELEMENT.FIELD=VALUES; several make a grid of cases */
                        set?: string[];
                    };
                    /**
                     * @default json
                     * @enum {string}
                     */
                    format?: "json" | "csv" | "table" | "pdf" | "xlsx" | "junit";
                };
            };
        };
        responses: {
            /** @description the job has ended */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        id: string;
                        project: string;
                        study: string;
                        format: string;
                        /** @enum {string} */
                        state: "waiting" | "running" | "done" | "failed" | "cancelled";
                        /** @description how much is done */
                        share: number;
                        /** @description revision of the project that was computed */
                        revision: number | null;
                        /** @description 0 done, 1 nothing computed, 2 options wrong, 3 computed, and something does not hold */
                        code: number | null;
                        notes: string;
                        /** Format: date-time */
                        createdAt: string;
                        endedAt: string | null;
                    };
                };
            };
            /** @description the job is under way */
            202: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        id: string;
                        project: string;
                        study: string;
                        format: string;
                        /** @enum {string} */
                        state: "waiting" | "running" | "done" | "failed" | "cancelled";
                        /** @description how much is done */
                        share: number;
                        /** @description revision of the project that was computed */
                        revision: number | null;
                        /** @description 0 done, 1 nothing computed, 2 options wrong, 3 computed, and something does not hold */
                        code: number | null;
                        notes: string;
                        /** Format: date-time */
                        createdAt: string;
                        endedAt: string | null;
                    };
                };
            };
            default: components["responses"]["problem"];
        };
    };
    studyArc: {
        parameters: {
            query?: never;
            header?: {
                /** @description wait=SECONDS (up to 60): answers with the ended job when it ends within */
                prefer?: string;
            };
            path: {
                id: string;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": {
                    /** @default {} */
                    options?: {
                        /** @description conditions by name or identifier, or maximum, minimum */
                        condition?: string[];
                        /**
                         * @description the condition by its sources alone
                         * @enum {string}
                         */
                        case?: "max" | "min";
                        /** @description busbars */
                        at?: string[];
                        /**
                         * @description of IEEE 1584
                         * @enum {string}
                         */
                        edition?: "2002" | "2018";
                        /** @description counted where nothing clears earlier, s */
                        longest?: number;
                        /** @description the other edition beside */
                        compare?: boolean;
                        /** @description with the maintenance settings on */
                        maintenance?: boolean;
                        /** @description what else is shown */
                        show?: string[];
                        /** @description columns of a table, separated by commas */
                        columns?: string;
                        /** @description values for this run alone, ELEMENT.FIELD=VALUES; several make a grid of cases */
                        set?: string[];
                    };
                    /**
                     * @default json
                     * @enum {string}
                     */
                    format?: "json" | "csv" | "table" | "pdf" | "xlsx" | "junit";
                };
            };
        };
        responses: {
            /** @description the job has ended */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        id: string;
                        project: string;
                        study: string;
                        format: string;
                        /** @enum {string} */
                        state: "waiting" | "running" | "done" | "failed" | "cancelled";
                        /** @description how much is done */
                        share: number;
                        /** @description revision of the project that was computed */
                        revision: number | null;
                        /** @description 0 done, 1 nothing computed, 2 options wrong, 3 computed, and something does not hold */
                        code: number | null;
                        notes: string;
                        /** Format: date-time */
                        createdAt: string;
                        endedAt: string | null;
                    };
                };
            };
            /** @description the job is under way */
            202: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        id: string;
                        project: string;
                        study: string;
                        format: string;
                        /** @enum {string} */
                        state: "waiting" | "running" | "done" | "failed" | "cancelled";
                        /** @description how much is done */
                        share: number;
                        /** @description revision of the project that was computed */
                        revision: number | null;
                        /** @description 0 done, 1 nothing computed, 2 options wrong, 3 computed, and something does not hold */
                        code: number | null;
                        notes: string;
                        /** Format: date-time */
                        createdAt: string;
                        endedAt: string | null;
                    };
                };
            };
            default: components["responses"]["problem"];
        };
    };
    studyEarth: {
        parameters: {
            query?: never;
            header?: {
                /** @description wait=SECONDS (up to 60): answers with the ended job when it ends within */
                prefer?: string;
            };
            path: {
                id: string;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": {
                    /** @default {} */
                    options?: {
                        /** @description conditions by name or identifier, or maximum, minimum */
                        condition?: string[];
                        /**
                         * @description the condition by its sources alone
                         * @enum {string}
                         */
                        case?: "max" | "min";
                        /** @description busbars */
                        at?: string[];
                        /**
                         * @description kind of fault
                         * @enum {string}
                         */
                        kind?: "3ph" | "2ph" | "2phE" | "1ph" | "all";
                        /** @description places along lines, LINE:PERCENT; of "earth" a line */
                        along?: string[];
                        /** @description a study of its own */
                        study?: string;
                        /**
                         * @description impedances with earth as the return
                         * @enum {string}
                         */
                        carson?: "series" | "twoTerm" | "complexDepth";
                        /** @description duration of the fault, s */
                        duration?: number;
                        /** @description columns of a table, separated by commas */
                        columns?: string;
                        /** @description values for this run alone, ELEMENT.FIELD=VALUES; several make a grid of cases */
                        set?: string[];
                    };
                    /**
                     * @default json
                     * @enum {string}
                     */
                    format?: "json" | "csv" | "table" | "pdf" | "xlsx" | "junit";
                };
            };
        };
        responses: {
            /** @description the job has ended */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        id: string;
                        project: string;
                        study: string;
                        format: string;
                        /** @enum {string} */
                        state: "waiting" | "running" | "done" | "failed" | "cancelled";
                        /** @description how much is done */
                        share: number;
                        /** @description revision of the project that was computed */
                        revision: number | null;
                        /** @description 0 done, 1 nothing computed, 2 options wrong, 3 computed, and something does not hold */
                        code: number | null;
                        notes: string;
                        /** Format: date-time */
                        createdAt: string;
                        endedAt: string | null;
                    };
                };
            };
            /** @description the job is under way */
            202: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        id: string;
                        project: string;
                        study: string;
                        format: string;
                        /** @enum {string} */
                        state: "waiting" | "running" | "done" | "failed" | "cancelled";
                        /** @description how much is done */
                        share: number;
                        /** @description revision of the project that was computed */
                        revision: number | null;
                        /** @description 0 done, 1 nothing computed, 2 options wrong, 3 computed, and something does not hold */
                        code: number | null;
                        notes: string;
                        /** Format: date-time */
                        createdAt: string;
                        endedAt: string | null;
                    };
                };
            };
            default: components["responses"]["problem"];
        };
    };
    studyCircuits: {
        parameters: {
            query?: never;
            header?: {
                /** @description wait=SECONDS (up to 60): answers with the ended job when it ends within */
                prefer?: string;
            };
            path: {
                id: string;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": {
                    /** @default {} */
                    options?: {
                        /** @description conditions by name or identifier, or maximum, minimum */
                        condition?: string[];
                        /**
                         * @description the condition by its sources alone
                         * @enum {string}
                         */
                        case?: "max" | "min";
                        /** @description busbars */
                        at?: string[];
                        /**
                         * @description the smallest that do
                         * @enum {string}
                         */
                        propose?: "both" | "section" | "device";
                        /** @description what else is shown */
                        show?: string[];
                        /** @description columns of a table, separated by commas */
                        columns?: string;
                        /** @description values for this run alone, ELEMENT.FIELD=VALUES; several make a grid of cases */
                        set?: string[];
                    };
                    /**
                     * @default json
                     * @enum {string}
                     */
                    format?: "json" | "csv" | "table" | "pdf" | "xlsx" | "junit";
                };
            };
        };
        responses: {
            /** @description the job has ended */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        id: string;
                        project: string;
                        study: string;
                        format: string;
                        /** @enum {string} */
                        state: "waiting" | "running" | "done" | "failed" | "cancelled";
                        /** @description how much is done */
                        share: number;
                        /** @description revision of the project that was computed */
                        revision: number | null;
                        /** @description 0 done, 1 nothing computed, 2 options wrong, 3 computed, and something does not hold */
                        code: number | null;
                        notes: string;
                        /** Format: date-time */
                        createdAt: string;
                        endedAt: string | null;
                    };
                };
            };
            /** @description the job is under way */
            202: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        id: string;
                        project: string;
                        study: string;
                        format: string;
                        /** @enum {string} */
                        state: "waiting" | "running" | "done" | "failed" | "cancelled";
                        /** @description how much is done */
                        share: number;
                        /** @description revision of the project that was computed */
                        revision: number | null;
                        /** @description 0 done, 1 nothing computed, 2 options wrong, 3 computed, and something does not hold */
                        code: number | null;
                        notes: string;
                        /** Format: date-time */
                        createdAt: string;
                        endedAt: string | null;
                    };
                };
            };
            default: components["responses"]["problem"];
        };
    };
    studyBoards: {
        parameters: {
            query?: never;
            header?: {
                /** @description wait=SECONDS (up to 60): answers with the ended job when it ends within */
                prefer?: string;
            };
            path: {
                id: string;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": {
                    /** @default {} */
                    options?: {
                        /** @description conditions by name or identifier, or maximum, minimum */
                        condition?: string[];
                        /**
                         * @description the condition by its sources alone
                         * @enum {string}
                         */
                        case?: "max" | "min";
                        /** @description busbars */
                        at?: string[];
                        /** @description what else is shown */
                        show?: string[];
                        /** @description columns of a table, separated by commas */
                        columns?: string;
                        /** @description values for this run alone, ELEMENT.FIELD=VALUES; several make a grid of cases */
                        set?: string[];
                    };
                    /**
                     * @default json
                     * @enum {string}
                     */
                    format?: "json" | "csv" | "table" | "pdf" | "xlsx" | "junit";
                };
            };
        };
        responses: {
            /** @description the job has ended */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        id: string;
                        project: string;
                        study: string;
                        format: string;
                        /** @enum {string} */
                        state: "waiting" | "running" | "done" | "failed" | "cancelled";
                        /** @description how much is done */
                        share: number;
                        /** @description revision of the project that was computed */
                        revision: number | null;
                        /** @description 0 done, 1 nothing computed, 2 options wrong, 3 computed, and something does not hold */
                        code: number | null;
                        notes: string;
                        /** Format: date-time */
                        createdAt: string;
                        endedAt: string | null;
                    };
                };
            };
            /** @description the job is under way */
            202: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        id: string;
                        project: string;
                        study: string;
                        format: string;
                        /** @enum {string} */
                        state: "waiting" | "running" | "done" | "failed" | "cancelled";
                        /** @description how much is done */
                        share: number;
                        /** @description revision of the project that was computed */
                        revision: number | null;
                        /** @description 0 done, 1 nothing computed, 2 options wrong, 3 computed, and something does not hold */
                        code: number | null;
                        notes: string;
                        /** Format: date-time */
                        createdAt: string;
                        endedAt: string | null;
                    };
                };
            };
            default: components["responses"]["problem"];
        };
    };
    studyMatrix: {
        parameters: {
            query?: never;
            header?: {
                /** @description wait=SECONDS (up to 60): answers with the ended job when it ends within */
                prefer?: string;
            };
            path: {
                id: string;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": {
                    /** @default {} */
                    options?: {
                        /** @description conditions by name or identifier, or maximum, minimum */
                        condition?: string[];
                        /**
                         * @description the condition by its sources alone
                         * @enum {string}
                         */
                        case?: "max" | "min";
                        /** @description switches taken as open */
                        open?: string[];
                        /** @description switches taken as closed */
                        close?: string[];
                        /** @description elements out of service */
                        out?: string[];
                        /** @description lines out of service and earthed at both ends */
                        earthed?: string[];
                        /**
                         * @description how faults are computed
                         * @enum {string}
                         */
                        method?: "iec60909" | "c37" | "superposition";
                        /**
                         * @description method of IEC 60909-0 for the peak
                         * @enum {string}
                         */
                        peak?: "equivalentFrequency" | "smallestRatio" | "ratioAtPlace";
                        /**
                         * @description line capacitances in the zero sequence
                         * @enum {string}
                         */
                        charging?: "auto" | "always" | "never";
                        /** @description voltage before the fault, percent */
                        prefault?: number;
                        /**
                         * @description how IEEE C37.010 divides
                         * @enum {string}
                         */
                        current?: "E/X" | "E/Z";
                        /**
                         * @description sequence of the matrix
                         * @enum {string}
                         */
                        sequence?: "positive" | "negative" | "zero";
                        /** @description columns of a table, separated by commas */
                        columns?: string;
                        /** @description values for this run alone, ELEMENT.FIELD=VALUES; several make a grid of cases */
                        set?: string[];
                    };
                    /**
                     * @default json
                     * @enum {string}
                     */
                    format?: "json" | "csv" | "table" | "pdf" | "xlsx" | "junit";
                };
            };
        };
        responses: {
            /** @description the job has ended */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        id: string;
                        project: string;
                        study: string;
                        format: string;
                        /** @enum {string} */
                        state: "waiting" | "running" | "done" | "failed" | "cancelled";
                        /** @description how much is done */
                        share: number;
                        /** @description revision of the project that was computed */
                        revision: number | null;
                        /** @description 0 done, 1 nothing computed, 2 options wrong, 3 computed, and something does not hold */
                        code: number | null;
                        notes: string;
                        /** Format: date-time */
                        createdAt: string;
                        endedAt: string | null;
                    };
                };
            };
            /** @description the job is under way */
            202: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        id: string;
                        project: string;
                        study: string;
                        format: string;
                        /** @enum {string} */
                        state: "waiting" | "running" | "done" | "failed" | "cancelled";
                        /** @description how much is done */
                        share: number;
                        /** @description revision of the project that was computed */
                        revision: number | null;
                        /** @description 0 done, 1 nothing computed, 2 options wrong, 3 computed, and something does not hold */
                        code: number | null;
                        notes: string;
                        /** Format: date-time */
                        createdAt: string;
                        endedAt: string | null;
                    };
                };
            };
            default: components["responses"]["problem"];
        };
    };
    studyGrading: {
        parameters: {
            query?: never;
            header?: {
                /** @description wait=SECONDS (up to 60): answers with the ended job when it ends within */
                prefer?: string;
            };
            path: {
                id: string;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": {
                    /** @default {} */
                    options?: {
                        /** @description conditions by name or identifier, or maximum, minimum */
                        condition?: string[];
                        /**
                         * @description the condition by its sources alone
                         * @enum {string}
                         */
                        case?: "max" | "min";
                        /** @description what else is shown */
                        show?: string[];
                        /** @description columns of a table, separated by commas */
                        columns?: string;
                        /** @description values for this run alone, ELEMENT.FIELD=VALUES; several make a grid of cases */
                        set?: string[];
                    };
                    /**
                     * @default json
                     * @enum {string}
                     */
                    format?: "json" | "csv" | "table" | "pdf" | "xlsx" | "junit";
                };
            };
        };
        responses: {
            /** @description the job has ended */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        id: string;
                        project: string;
                        study: string;
                        format: string;
                        /** @enum {string} */
                        state: "waiting" | "running" | "done" | "failed" | "cancelled";
                        /** @description how much is done */
                        share: number;
                        /** @description revision of the project that was computed */
                        revision: number | null;
                        /** @description 0 done, 1 nothing computed, 2 options wrong, 3 computed, and something does not hold */
                        code: number | null;
                        notes: string;
                        /** Format: date-time */
                        createdAt: string;
                        endedAt: string | null;
                    };
                };
            };
            /** @description the job is under way */
            202: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        id: string;
                        project: string;
                        study: string;
                        format: string;
                        /** @enum {string} */
                        state: "waiting" | "running" | "done" | "failed" | "cancelled";
                        /** @description how much is done */
                        share: number;
                        /** @description revision of the project that was computed */
                        revision: number | null;
                        /** @description 0 done, 1 nothing computed, 2 options wrong, 3 computed, and something does not hold */
                        code: number | null;
                        notes: string;
                        /** Format: date-time */
                        createdAt: string;
                        endedAt: string | null;
                    };
                };
            };
            default: components["responses"]["problem"];
        };
    };
    studyDirections: {
        parameters: {
            query?: never;
            header?: {
                /** @description wait=SECONDS (up to 60): answers with the ended job when it ends within */
                prefer?: string;
            };
            path: {
                id: string;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": {
                    /** @default {} */
                    options?: {
                        /** @description conditions by name or identifier, or maximum, minimum */
                        condition?: string[];
                        /**
                         * @description the condition by its sources alone
                         * @enum {string}
                         */
                        case?: "max" | "min";
                        /**
                         * @description what is measured
                         * @enum {string}
                         */
                        faults?: "phase" | "earth" | "negative";
                        /** @description columns of a table, separated by commas */
                        columns?: string;
                        /** @description values for this run alone, ELEMENT.FIELD=VALUES; several make a grid of cases */
                        set?: string[];
                    };
                    /**
                     * @default json
                     * @enum {string}
                     */
                    format?: "json" | "csv" | "table" | "pdf" | "xlsx" | "junit";
                };
            };
        };
        responses: {
            /** @description the job has ended */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        id: string;
                        project: string;
                        study: string;
                        format: string;
                        /** @enum {string} */
                        state: "waiting" | "running" | "done" | "failed" | "cancelled";
                        /** @description how much is done */
                        share: number;
                        /** @description revision of the project that was computed */
                        revision: number | null;
                        /** @description 0 done, 1 nothing computed, 2 options wrong, 3 computed, and something does not hold */
                        code: number | null;
                        notes: string;
                        /** Format: date-time */
                        createdAt: string;
                        endedAt: string | null;
                    };
                };
            };
            /** @description the job is under way */
            202: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        id: string;
                        project: string;
                        study: string;
                        format: string;
                        /** @enum {string} */
                        state: "waiting" | "running" | "done" | "failed" | "cancelled";
                        /** @description how much is done */
                        share: number;
                        /** @description revision of the project that was computed */
                        revision: number | null;
                        /** @description 0 done, 1 nothing computed, 2 options wrong, 3 computed, and something does not hold */
                        code: number | null;
                        notes: string;
                        /** Format: date-time */
                        createdAt: string;
                        endedAt: string | null;
                    };
                };
            };
            default: components["responses"]["problem"];
        };
    };
    studyPropose: {
        parameters: {
            query?: never;
            header?: {
                /** @description wait=SECONDS (up to 60): answers with the ended job when it ends within */
                prefer?: string;
            };
            path: {
                id: string;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": {
                    /** @default {} */
                    options?: {
                        /** @description conditions by name or identifier, or maximum, minimum */
                        condition?: string[];
                        /**
                         * @description the condition by its sources alone
                         * @enum {string}
                         */
                        case?: "max" | "min";
                        /** @description a device; of "propose" several, separated by commas */
                        device?: string;
                        /** @description a device and all that follow it towards the sources */
                        path?: string;
                        /** @description a station */
                        station?: string;
                        /**
                         * @description what the proposal strives for
                         * @enum {string}
                         */
                        strategy?: "fastest" | "widest" | "least";
                        /** @description also devices whose figures lean on assumed data */
                        assumed?: boolean;
                        /** @description columns of a table, separated by commas */
                        columns?: string;
                        /** @description values for this run alone, ELEMENT.FIELD=VALUES; several make a grid of cases */
                        set?: string[];
                    };
                    /**
                     * @default json
                     * @enum {string}
                     */
                    format?: "json" | "csv" | "table" | "pdf" | "xlsx" | "junit";
                };
            };
        };
        responses: {
            /** @description the job has ended */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        id: string;
                        project: string;
                        study: string;
                        format: string;
                        /** @enum {string} */
                        state: "waiting" | "running" | "done" | "failed" | "cancelled";
                        /** @description how much is done */
                        share: number;
                        /** @description revision of the project that was computed */
                        revision: number | null;
                        /** @description 0 done, 1 nothing computed, 2 options wrong, 3 computed, and something does not hold */
                        code: number | null;
                        notes: string;
                        /** Format: date-time */
                        createdAt: string;
                        endedAt: string | null;
                    };
                };
            };
            /** @description the job is under way */
            202: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        id: string;
                        project: string;
                        study: string;
                        format: string;
                        /** @enum {string} */
                        state: "waiting" | "running" | "done" | "failed" | "cancelled";
                        /** @description how much is done */
                        share: number;
                        /** @description revision of the project that was computed */
                        revision: number | null;
                        /** @description 0 done, 1 nothing computed, 2 options wrong, 3 computed, and something does not hold */
                        code: number | null;
                        notes: string;
                        /** Format: date-time */
                        createdAt: string;
                        endedAt: string | null;
                    };
                };
            };
            default: components["responses"]["problem"];
        };
    };
    studyReach: {
        parameters: {
            query?: never;
            header?: {
                /** @description wait=SECONDS (up to 60): answers with the ended job when it ends within */
                prefer?: string;
            };
            path: {
                id: string;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": {
                    /** @default {} */
                    options?: {
                        /** @description from this nominal voltage on, kV */
                        from?: number;
                        /** @description a station */
                        station?: string;
                        /** @description lines between the same busbars count as one */
                        merged?: boolean;
                        /** @description columns of a table, separated by commas */
                        columns?: string;
                        /** @description values for this run alone, ELEMENT.FIELD=VALUES; several make a grid of cases */
                        set?: string[];
                    };
                    /**
                     * @default json
                     * @enum {string}
                     */
                    format?: "json" | "csv" | "table" | "pdf" | "xlsx" | "junit";
                };
            };
        };
        responses: {
            /** @description the job has ended */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        id: string;
                        project: string;
                        study: string;
                        format: string;
                        /** @enum {string} */
                        state: "waiting" | "running" | "done" | "failed" | "cancelled";
                        /** @description how much is done */
                        share: number;
                        /** @description revision of the project that was computed */
                        revision: number | null;
                        /** @description 0 done, 1 nothing computed, 2 options wrong, 3 computed, and something does not hold */
                        code: number | null;
                        notes: string;
                        /** Format: date-time */
                        createdAt: string;
                        endedAt: string | null;
                    };
                };
            };
            /** @description the job is under way */
            202: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        id: string;
                        project: string;
                        study: string;
                        format: string;
                        /** @enum {string} */
                        state: "waiting" | "running" | "done" | "failed" | "cancelled";
                        /** @description how much is done */
                        share: number;
                        /** @description revision of the project that was computed */
                        revision: number | null;
                        /** @description 0 done, 1 nothing computed, 2 options wrong, 3 computed, and something does not hold */
                        code: number | null;
                        notes: string;
                        /** Format: date-time */
                        createdAt: string;
                        endedAt: string | null;
                    };
                };
            };
            default: components["responses"]["problem"];
        };
    };
    studyCoverage: {
        parameters: {
            query?: never;
            header?: {
                /** @description wait=SECONDS (up to 60): answers with the ended job when it ends within */
                prefer?: string;
            };
            path: {
                id: string;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": {
                    /** @default {} */
                    options?: {
                        /** @description conditions by name or identifier, or maximum, minimum */
                        condition?: string[];
                        /**
                         * @description the condition by its sources alone
                         * @enum {string}
                         */
                        case?: "max" | "min";
                        /** @description a line */
                        line?: string;
                        /** @description places on each line */
                        places?: number;
                        /** @description of the faults, ohms */
                        resistance?: number[];
                        /** @description an arc added */
                        arc?: boolean;
                        /** @description once more without each of these */
                        outage?: string[];
                        /** @description columns of a table, separated by commas */
                        columns?: string;
                        /** @description values for this run alone, ELEMENT.FIELD=VALUES; several make a grid of cases */
                        set?: string[];
                    };
                    /**
                     * @default json
                     * @enum {string}
                     */
                    format?: "json" | "csv" | "table" | "pdf" | "xlsx" | "junit";
                };
            };
        };
        responses: {
            /** @description the job has ended */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        id: string;
                        project: string;
                        study: string;
                        format: string;
                        /** @enum {string} */
                        state: "waiting" | "running" | "done" | "failed" | "cancelled";
                        /** @description how much is done */
                        share: number;
                        /** @description revision of the project that was computed */
                        revision: number | null;
                        /** @description 0 done, 1 nothing computed, 2 options wrong, 3 computed, and something does not hold */
                        code: number | null;
                        notes: string;
                        /** Format: date-time */
                        createdAt: string;
                        endedAt: string | null;
                    };
                };
            };
            /** @description the job is under way */
            202: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        id: string;
                        project: string;
                        study: string;
                        format: string;
                        /** @enum {string} */
                        state: "waiting" | "running" | "done" | "failed" | "cancelled";
                        /** @description how much is done */
                        share: number;
                        /** @description revision of the project that was computed */
                        revision: number | null;
                        /** @description 0 done, 1 nothing computed, 2 options wrong, 3 computed, and something does not hold */
                        code: number | null;
                        notes: string;
                        /** Format: date-time */
                        createdAt: string;
                        endedAt: string | null;
                    };
                };
            };
            default: components["responses"]["problem"];
        };
    };
    studyPackage: {
        parameters: {
            query?: never;
            header?: {
                /** @description wait=SECONDS (up to 60): answers with the ended job when it ends within */
                prefer?: string;
            };
            path: {
                id: string;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": {
                    /** @default {} */
                    options?: {
                        /** @description a line */
                        line?: string;
                        /** @description scheme of the line package */
                        scheme?: string;
                        /** @description criterion of loadability, NERC PRC-023 */
                        criterion?: string;
                        /** @description columns of a table, separated by commas */
                        columns?: string;
                        /** @description values for this run alone, ELEMENT.FIELD=VALUES; several make a grid of cases */
                        set?: string[];
                    };
                    /**
                     * @default json
                     * @enum {string}
                     */
                    format?: "json" | "csv" | "table" | "pdf" | "xlsx" | "junit";
                };
            };
        };
        responses: {
            /** @description the job has ended */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        id: string;
                        project: string;
                        study: string;
                        format: string;
                        /** @enum {string} */
                        state: "waiting" | "running" | "done" | "failed" | "cancelled";
                        /** @description how much is done */
                        share: number;
                        /** @description revision of the project that was computed */
                        revision: number | null;
                        /** @description 0 done, 1 nothing computed, 2 options wrong, 3 computed, and something does not hold */
                        code: number | null;
                        notes: string;
                        /** Format: date-time */
                        createdAt: string;
                        endedAt: string | null;
                    };
                };
            };
            /** @description the job is under way */
            202: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        id: string;
                        project: string;
                        study: string;
                        format: string;
                        /** @enum {string} */
                        state: "waiting" | "running" | "done" | "failed" | "cancelled";
                        /** @description how much is done */
                        share: number;
                        /** @description revision of the project that was computed */
                        revision: number | null;
                        /** @description 0 done, 1 nothing computed, 2 options wrong, 3 computed, and something does not hold */
                        code: number | null;
                        notes: string;
                        /** Format: date-time */
                        createdAt: string;
                        endedAt: string | null;
                    };
                };
            };
            default: components["responses"]["problem"];
        };
    };
    studyDifferential: {
        parameters: {
            query?: never;
            header?: {
                /** @description wait=SECONDS (up to 60): answers with the ended job when it ends within */
                prefer?: string;
            };
            path: {
                id: string;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": {
                    /** @default {} */
                    options?: {
                        /** @description conditions by name or identifier, or maximum, minimum */
                        condition?: string[];
                        /**
                         * @description the condition by its sources alone
                         * @enum {string}
                         */
                        case?: "max" | "min";
                        /** @description a device; of "propose" several, separated by commas */
                        device?: string;
                        /** @description columns of a table, separated by commas */
                        columns?: string;
                        /** @description values for this run alone, ELEMENT.FIELD=VALUES; several make a grid of cases */
                        set?: string[];
                    };
                    /**
                     * @default json
                     * @enum {string}
                     */
                    format?: "json" | "csv" | "table" | "pdf" | "xlsx" | "junit";
                };
            };
        };
        responses: {
            /** @description the job has ended */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        id: string;
                        project: string;
                        study: string;
                        format: string;
                        /** @enum {string} */
                        state: "waiting" | "running" | "done" | "failed" | "cancelled";
                        /** @description how much is done */
                        share: number;
                        /** @description revision of the project that was computed */
                        revision: number | null;
                        /** @description 0 done, 1 nothing computed, 2 options wrong, 3 computed, and something does not hold */
                        code: number | null;
                        notes: string;
                        /** Format: date-time */
                        createdAt: string;
                        endedAt: string | null;
                    };
                };
            };
            /** @description the job is under way */
            202: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        id: string;
                        project: string;
                        study: string;
                        format: string;
                        /** @enum {string} */
                        state: "waiting" | "running" | "done" | "failed" | "cancelled";
                        /** @description how much is done */
                        share: number;
                        /** @description revision of the project that was computed */
                        revision: number | null;
                        /** @description 0 done, 1 nothing computed, 2 options wrong, 3 computed, and something does not hold */
                        code: number | null;
                        notes: string;
                        /** Format: date-time */
                        createdAt: string;
                        endedAt: string | null;
                    };
                };
            };
            default: components["responses"]["problem"];
        };
    };
    studyTrial: {
        parameters: {
            query?: never;
            header?: {
                /** @description wait=SECONDS (up to 60): answers with the ended job when it ends within */
                prefer?: string;
            };
            path: {
                id: string;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": {
                    /** @default {} */
                    options?: {
                        /** @description conditions by name or identifier, or maximum, minimum */
                        condition?: string[];
                        /**
                         * @description the condition by its sources alone
                         * @enum {string}
                         */
                        case?: "max" | "min";
                        /** @description switches taken as open */
                        open?: string[];
                        /** @description switches taken as closed */
                        close?: string[];
                        /** @description elements out of service */
                        out?: string[];
                        /** @description lines out of service and earthed at both ends */
                        earthed?: string[];
                        /**
                         * @description kind of fault
                         * @enum {string}
                         */
                        kind?: "3ph" | "2ph" | "2phE" | "1ph" | "all";
                        /**
                         * @description faulted phase of 1ph, sound phase of 2ph and 2phE
                         * @enum {string}
                         */
                        odd?: "L1" | "L2" | "L3";
                        /** @description ohms in each faulted phase, resistance */
                        phaseR?: number;
                        /** @description ohms in each faulted phase, reactance */
                        phaseX?: number;
                        /** @description ohms from their common point to earth, resistance */
                        earthR?: number;
                        /** @description ohms from their common point to earth, reactance */
                        earthX?: number;
                        /** @description faults at once, KIND[/PHASE]@PLACE */
                        fault?: string[];
                        /** @description broken conductors, ELEMENT:TERMINAL/PHASES */
                        break?: string[];
                        /** @description a kept trial */
                        trial?: string;
                        /** @description once more without each of these */
                        outage?: string[];
                        /** @description breakers that fail */
                        stuck?: string[];
                        /** @description relays or switches that do nothing */
                        dead?: string[];
                        /** @description channels that carry nothing */
                        silent?: string[];
                        /** @description the fault goes out after so long without current, s */
                        gone?: number;
                        /** @description cleared in time when within this, s */
                        within?: number;
                        /** @description columns of a table, separated by commas */
                        columns?: string;
                        /** @description values for this run alone, ELEMENT.FIELD=VALUES; several make a grid of cases */
                        set?: string[];
                    };
                    /**
                     * @default json
                     * @enum {string}
                     */
                    format?: "json" | "csv" | "table" | "pdf" | "xlsx" | "junit";
                };
            };
        };
        responses: {
            /** @description the job has ended */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        id: string;
                        project: string;
                        study: string;
                        format: string;
                        /** @enum {string} */
                        state: "waiting" | "running" | "done" | "failed" | "cancelled";
                        /** @description how much is done */
                        share: number;
                        /** @description revision of the project that was computed */
                        revision: number | null;
                        /** @description 0 done, 1 nothing computed, 2 options wrong, 3 computed, and something does not hold */
                        code: number | null;
                        notes: string;
                        /** Format: date-time */
                        createdAt: string;
                        endedAt: string | null;
                    };
                };
            };
            /** @description the job is under way */
            202: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        id: string;
                        project: string;
                        study: string;
                        format: string;
                        /** @enum {string} */
                        state: "waiting" | "running" | "done" | "failed" | "cancelled";
                        /** @description how much is done */
                        share: number;
                        /** @description revision of the project that was computed */
                        revision: number | null;
                        /** @description 0 done, 1 nothing computed, 2 options wrong, 3 computed, and something does not hold */
                        code: number | null;
                        notes: string;
                        /** Format: date-time */
                        createdAt: string;
                        endedAt: string | null;
                    };
                };
            };
            default: components["responses"]["problem"];
        };
    };
    studySearch: {
        parameters: {
            query?: never;
            header?: {
                /** @description wait=SECONDS (up to 60): answers with the ended job when it ends within */
                prefer?: string;
            };
            path: {
                id: string;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": {
                    /** @default {} */
                    options?: {
                        /** @description conditions by name or identifier, or maximum, minimum */
                        condition?: string[];
                        /**
                         * @description the condition by its sources alone
                         * @enum {string}
                         */
                        case?: "max" | "min";
                        /** @description a line */
                        line?: string;
                        /** @description places on each line */
                        places?: number;
                        /**
                         * @description kind of fault
                         * @enum {string}
                         */
                        kind?: "3ph" | "2ph" | "2phE" | "1ph" | "all";
                        /** @description of the faults, ohms */
                        resistance?: number[];
                        /** @description once more without each of these */
                        outage?: string[];
                        /** @description what fails, one at a time */
                        fails?: string[];
                        /** @description columns of a table, separated by commas */
                        columns?: string;
                        /** @description values for this run alone, ELEMENT.FIELD=VALUES; several make a grid of cases */
                        set?: string[];
                    };
                    /**
                     * @default json
                     * @enum {string}
                     */
                    format?: "json" | "csv" | "table" | "pdf" | "xlsx" | "junit";
                };
            };
        };
        responses: {
            /** @description the job has ended */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        id: string;
                        project: string;
                        study: string;
                        format: string;
                        /** @enum {string} */
                        state: "waiting" | "running" | "done" | "failed" | "cancelled";
                        /** @description how much is done */
                        share: number;
                        /** @description revision of the project that was computed */
                        revision: number | null;
                        /** @description 0 done, 1 nothing computed, 2 options wrong, 3 computed, and something does not hold */
                        code: number | null;
                        notes: string;
                        /** Format: date-time */
                        createdAt: string;
                        endedAt: string | null;
                    };
                };
            };
            /** @description the job is under way */
            202: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        id: string;
                        project: string;
                        study: string;
                        format: string;
                        /** @enum {string} */
                        state: "waiting" | "running" | "done" | "failed" | "cancelled";
                        /** @description how much is done */
                        share: number;
                        /** @description revision of the project that was computed */
                        revision: number | null;
                        /** @description 0 done, 1 nothing computed, 2 options wrong, 3 computed, and something does not hold */
                        code: number | null;
                        notes: string;
                        /** Format: date-time */
                        createdAt: string;
                        endedAt: string | null;
                    };
                };
            };
            default: components["responses"]["problem"];
        };
    };
    studyCurve: {
        parameters: {
            query?: never;
            header?: {
                /** @description wait=SECONDS (up to 60): answers with the ended job when it ends within */
                prefer?: string;
            };
            path: {
                id: string;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": {
                    /** @default {} */
                    options?: {
                        /** @description a device; of "propose" several, separated by commas */
                        device?: string;
                        /**
                         * @description what is measured
                         * @enum {string}
                         */
                        faults?: "phase" | "earth" | "negative";
                        /** @description end of the curve, A */
                        to?: number;
                        /** @description columns of a table, separated by commas */
                        columns?: string;
                        /** @description values for this run alone, ELEMENT.FIELD=VALUES; several make a grid of cases */
                        set?: string[];
                    };
                    /**
                     * @default json
                     * @enum {string}
                     */
                    format?: "json" | "csv" | "table" | "pdf" | "xlsx" | "junit";
                };
            };
        };
        responses: {
            /** @description the job has ended */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        id: string;
                        project: string;
                        study: string;
                        format: string;
                        /** @enum {string} */
                        state: "waiting" | "running" | "done" | "failed" | "cancelled";
                        /** @description how much is done */
                        share: number;
                        /** @description revision of the project that was computed */
                        revision: number | null;
                        /** @description 0 done, 1 nothing computed, 2 options wrong, 3 computed, and something does not hold */
                        code: number | null;
                        notes: string;
                        /** Format: date-time */
                        createdAt: string;
                        endedAt: string | null;
                    };
                };
            };
            /** @description the job is under way */
            202: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        id: string;
                        project: string;
                        study: string;
                        format: string;
                        /** @enum {string} */
                        state: "waiting" | "running" | "done" | "failed" | "cancelled";
                        /** @description how much is done */
                        share: number;
                        /** @description revision of the project that was computed */
                        revision: number | null;
                        /** @description 0 done, 1 nothing computed, 2 options wrong, 3 computed, and something does not hold */
                        code: number | null;
                        notes: string;
                        /** Format: date-time */
                        createdAt: string;
                        endedAt: string | null;
                    };
                };
            };
            default: components["responses"]["problem"];
        };
    };
    studyVerify: {
        parameters: {
            query?: never;
            header?: {
                /** @description wait=SECONDS (up to 60): answers with the ended job when it ends within */
                prefer?: string;
            };
            path: {
                id: string;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": {
                    /** @default {} */
                    options?: {
                        /** @description conditions by name or identifier, or maximum, minimum */
                        condition?: string[];
                        /**
                         * @description the condition by its sources alone
                         * @enum {string}
                         */
                        case?: "max" | "min";
                        /** @description what else is shown */
                        show?: string[];
                        /** @description columns of a table, separated by commas */
                        columns?: string;
                        /** @description values for this run alone, ELEMENT.FIELD=VALUES; several make a grid of cases */
                        set?: string[];
                    };
                    /**
                     * @default json
                     * @enum {string}
                     */
                    format?: "json" | "csv" | "table" | "pdf" | "xlsx" | "junit";
                };
            };
        };
        responses: {
            /** @description the job has ended */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        id: string;
                        project: string;
                        study: string;
                        format: string;
                        /** @enum {string} */
                        state: "waiting" | "running" | "done" | "failed" | "cancelled";
                        /** @description how much is done */
                        share: number;
                        /** @description revision of the project that was computed */
                        revision: number | null;
                        /** @description 0 done, 1 nothing computed, 2 options wrong, 3 computed, and something does not hold */
                        code: number | null;
                        notes: string;
                        /** Format: date-time */
                        createdAt: string;
                        endedAt: string | null;
                    };
                };
            };
            /** @description the job is under way */
            202: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        id: string;
                        project: string;
                        study: string;
                        format: string;
                        /** @enum {string} */
                        state: "waiting" | "running" | "done" | "failed" | "cancelled";
                        /** @description how much is done */
                        share: number;
                        /** @description revision of the project that was computed */
                        revision: number | null;
                        /** @description 0 done, 1 nothing computed, 2 options wrong, 3 computed, and something does not hold */
                        code: number | null;
                        notes: string;
                        /** Format: date-time */
                        createdAt: string;
                        endedAt: string | null;
                    };
                };
            };
            default: components["responses"]["problem"];
        };
    };
    studySheet: {
        parameters: {
            query?: never;
            header?: {
                /** @description wait=SECONDS (up to 60): answers with the ended job when it ends within */
                prefer?: string;
            };
            path: {
                id: string;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": {
                    /** @default {} */
                    options?: {
                        /** @description a device; of "propose" several, separated by commas */
                        device?: string;
                        /** @description a line package */
                        package?: string;
                        /** @description busbars */
                        at?: string[];
                        /** @description columns of a table, separated by commas */
                        columns?: string;
                        /** @description values for this run alone, ELEMENT.FIELD=VALUES; several make a grid of cases */
                        set?: string[];
                    };
                    /**
                     * @default json
                     * @enum {string}
                     */
                    format?: "json" | "csv" | "table" | "pdf" | "xlsx" | "junit";
                };
            };
        };
        responses: {
            /** @description the job has ended */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        id: string;
                        project: string;
                        study: string;
                        format: string;
                        /** @enum {string} */
                        state: "waiting" | "running" | "done" | "failed" | "cancelled";
                        /** @description how much is done */
                        share: number;
                        /** @description revision of the project that was computed */
                        revision: number | null;
                        /** @description 0 done, 1 nothing computed, 2 options wrong, 3 computed, and something does not hold */
                        code: number | null;
                        notes: string;
                        /** Format: date-time */
                        createdAt: string;
                        endedAt: string | null;
                    };
                };
            };
            /** @description the job is under way */
            202: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        id: string;
                        project: string;
                        study: string;
                        format: string;
                        /** @enum {string} */
                        state: "waiting" | "running" | "done" | "failed" | "cancelled";
                        /** @description how much is done */
                        share: number;
                        /** @description revision of the project that was computed */
                        revision: number | null;
                        /** @description 0 done, 1 nothing computed, 2 options wrong, 3 computed, and something does not hold */
                        code: number | null;
                        notes: string;
                        /** Format: date-time */
                        createdAt: string;
                        endedAt: string | null;
                    };
                };
            };
            default: components["responses"]["problem"];
        };
    };
    studyBatch: {
        parameters: {
            query?: never;
            header?: {
                /** @description wait=SECONDS (up to 60): answers with the ended job when it ends within */
                prefer?: string;
            };
            path: {
                id: string;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": {
                    /** @default {} */
                    options?: {
                        /** @description name of what is kept in the project */
                        name?: string;
                        /** @description columns of a table, separated by commas */
                        columns?: string;
                        /** @description values for this run alone, ELEMENT.FIELD=VALUES; several make a grid of cases */
                        set?: string[];
                    };
                    /**
                     * @default json
                     * @enum {string}
                     */
                    format?: "json" | "csv" | "table" | "pdf" | "xlsx" | "junit";
                };
            };
        };
        responses: {
            /** @description the job has ended */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        id: string;
                        project: string;
                        study: string;
                        format: string;
                        /** @enum {string} */
                        state: "waiting" | "running" | "done" | "failed" | "cancelled";
                        /** @description how much is done */
                        share: number;
                        /** @description revision of the project that was computed */
                        revision: number | null;
                        /** @description 0 done, 1 nothing computed, 2 options wrong, 3 computed, and something does not hold */
                        code: number | null;
                        notes: string;
                        /** Format: date-time */
                        createdAt: string;
                        endedAt: string | null;
                    };
                };
            };
            /** @description the job is under way */
            202: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        id: string;
                        project: string;
                        study: string;
                        format: string;
                        /** @enum {string} */
                        state: "waiting" | "running" | "done" | "failed" | "cancelled";
                        /** @description how much is done */
                        share: number;
                        /** @description revision of the project that was computed */
                        revision: number | null;
                        /** @description 0 done, 1 nothing computed, 2 options wrong, 3 computed, and something does not hold */
                        code: number | null;
                        notes: string;
                        /** Format: date-time */
                        createdAt: string;
                        endedAt: string | null;
                    };
                };
            };
            default: components["responses"]["problem"];
        };
    };
    studyScript: {
        parameters: {
            query?: never;
            header?: {
                /** @description wait=SECONDS (up to 60): answers with the ended job when it ends within */
                prefer?: string;
            };
            path: {
                id: string;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": {
                    /** @default {} */
                    options?: {
                        /** @description name of what is kept in the project */
                        name?: string;
                        /** @description columns of a table, separated by commas */
                        columns?: string;
                        /** @description values for this run alone, ELEMENT.FIELD=VALUES; several make a grid of cases */
                        set?: string[];
                    };
                    /**
                     * @default json
                     * @enum {string}
                     */
                    format?: "json" | "csv" | "table" | "pdf" | "xlsx" | "junit";
                };
            };
        };
        responses: {
            /** @description the job has ended */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        id: string;
                        project: string;
                        study: string;
                        format: string;
                        /** @enum {string} */
                        state: "waiting" | "running" | "done" | "failed" | "cancelled";
                        /** @description how much is done */
                        share: number;
                        /** @description revision of the project that was computed */
                        revision: number | null;
                        /** @description 0 done, 1 nothing computed, 2 options wrong, 3 computed, and something does not hold */
                        code: number | null;
                        notes: string;
                        /** Format: date-time */
                        createdAt: string;
                        endedAt: string | null;
                    };
                };
            };
            /** @description the job is under way */
            202: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        id: string;
                        project: string;
                        study: string;
                        format: string;
                        /** @enum {string} */
                        state: "waiting" | "running" | "done" | "failed" | "cancelled";
                        /** @description how much is done */
                        share: number;
                        /** @description revision of the project that was computed */
                        revision: number | null;
                        /** @description 0 done, 1 nothing computed, 2 options wrong, 3 computed, and something does not hold */
                        code: number | null;
                        notes: string;
                        /** Format: date-time */
                        createdAt: string;
                        endedAt: string | null;
                    };
                };
            };
            default: components["responses"]["problem"];
        };
    };
    getJobs: {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description jobs */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        jobs: {
                            id: string;
                            project: string;
                            study: string;
                            format: string;
                            /** @enum {string} */
                            state: "waiting" | "running" | "done" | "failed" | "cancelled";
                            /** @description how much is done */
                            share: number;
                            /** @description revision of the project that was computed */
                            revision: number | null;
                            /** @description 0 done, 1 nothing computed, 2 options wrong, 3 computed, and something does not hold */
                            code: number | null;
                            notes: string;
                            /** Format: date-time */
                            createdAt: string;
                            endedAt: string | null;
                        }[];
                    };
                };
            };
            default: components["responses"]["problem"];
        };
    };
    getJobsJob: {
        parameters: {
            query?: never;
            header?: {
                /** @description wait=SECONDS (up to 60): answers when it ends, or then */
                prefer?: string;
            };
            path: {
                job: string;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description the job */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        id: string;
                        project: string;
                        study: string;
                        format: string;
                        /** @enum {string} */
                        state: "waiting" | "running" | "done" | "failed" | "cancelled";
                        /** @description how much is done */
                        share: number;
                        /** @description revision of the project that was computed */
                        revision: number | null;
                        /** @description 0 done, 1 nothing computed, 2 options wrong, 3 computed, and something does not hold */
                        code: number | null;
                        notes: string;
                        /** Format: date-time */
                        createdAt: string;
                        endedAt: string | null;
                    };
                };
            };
            default: components["responses"]["problem"];
        };
    };
    deleteJobsJob: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                job: string;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description the job */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        id: string;
                        project: string;
                        study: string;
                        format: string;
                        /** @enum {string} */
                        state: "waiting" | "running" | "done" | "failed" | "cancelled";
                        /** @description how much is done */
                        share: number;
                        /** @description revision of the project that was computed */
                        revision: number | null;
                        /** @description 0 done, 1 nothing computed, 2 options wrong, 3 computed, and something does not hold */
                        code: number | null;
                        notes: string;
                        /** Format: date-time */
                        createdAt: string;
                        endedAt: string | null;
                    };
                };
            };
            default: components["responses"]["problem"];
        };
    };
    getJobsJobResult: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                job: string;
            };
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description as the terminal would print it; "mesura-code" and "mesura-revision" in the head */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": unknown;
                };
            };
            default: components["responses"]["problem"];
        };
    };
    getFormulas: {
        parameters: {
            query?: never;
            header?: never;
            path?: never;
            cookie?: never;
        };
        requestBody?: never;
        responses: {
            /** @description formulas */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        formulas: {
                            name: string;
                            title: string;
                            source: string;
                            mark: string;
                            inputs: {
                                [key: string]: {
                                    title: string;
                                    unit: string;
                                } & {
                                    [key: string]: unknown;
                                };
                            };
                            outputs: {
                                [key: string]: {
                                    title: string;
                                    unit: string;
                                } & {
                                    [key: string]: unknown;
                                };
                            };
                        }[];
                    };
                };
            };
            default: components["responses"]["problem"];
        };
    };
    postFormulasFormula: {
        parameters: {
            query?: never;
            header?: never;
            path: {
                formula: string;
            };
            cookie?: never;
        };
        requestBody: {
            content: {
                "application/json": {
                    [key: string]: unknown;
                };
            };
        };
        responses: {
            /** @description the result */
            200: {
                headers: {
                    [name: string]: unknown;
                };
                content: {
                    "application/json": {
                        name: string;
                        source: string;
                        mark: string;
                        outputs: {
                            [key: string]: unknown;
                        };
                    };
                };
            };
            default: components["responses"]["problem"];
        };
    };
}
