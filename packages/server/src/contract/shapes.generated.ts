// Made by `node scripts/contract.mjs`; not to be changed by hand.

/** The JSON Schemas of what the service answers, by the names of their types. */
export const SHAPES: Readonly<Record<string, object>> = {
  AppliedDates: {
    type: "object",
    properties: {
      start: { type: ["string", "null"] },
      end: { type: ["string", "null"] },
      startLocal: { type: ["string", "null"] },
      endLocal: { type: ["string", "null"] },
      parameter: { type: "string" },
      asked: { type: "string", description: "The text as it came under this name." },
      comparison: { $ref: "#/components/schemas/DateComparison" },
      value: {
        type: "string",
        description: "The date that was applied, in its canonical spelling.",
      },
      canonical: { type: "string", description: "The window that it stands for." },
    },
    required: [
      "asked",
      "canonical",
      "comparison",
      "end",
      "endLocal",
      "parameter",
      "start",
      "startLocal",
      "value",
    ],
    description: "A parameter of dates as it was applied, as it is sent.",
  },
  AttachedDatabase: {
    type: "object",
    properties: {
      name: { type: "string" },
      host: { type: "string" },
      port: { type: "number" },
      database: { type: "string" },
      user: { type: "string" },
      allowWriter: {
        type: "boolean",
        description: "Whether an account that can write was accepted all the same.",
      },
      attachedAt: { type: "string" },
    },
    required: ["name", "host", "port", "database", "user", "allowWriter", "attachedAt"],
    description: "A database of others, of which tables may be read.",
  },
  AttachedTable: {
    type: "object",
    properties: {
      name: { type: "string" },
      kind: { type: "string", enum: ["table", "view"] },
      about: {
        type: ["number", "null"],
        description: "About how many records it has, as the database reckons; null for a view.",
      },
    },
    required: ["name", "kind", "about"],
    description: "A table or view of an attached database.",
  },
  AttachedTableDetails: {
    type: "object",
    properties: {
      name: { type: "string" },
      kind: { type: "string", enum: ["table", "view"] },
      columns: {
        type: "array",
        items: {
          type: "object",
          properties: {
            name: { type: "string" },
            type: {
              type: "string",
              description: "In the database's own words, such as `varchar(10)`.",
            },
            holding: {
              anyOf: [{ $ref: "#/components/schemas/Holding" }, { type: "null" }],
              description: "Null for what cannot be filtered, such as binary data.",
            },
          },
          required: ["name", "type", "holding"],
        },
      },
      indexes: {
        type: "object",
        additionalProperties: { type: "array", items: { type: "string" } },
        description: "The columns of each index in its order, by the name of the index.",
      },
      keys: {
        type: "array",
        items: { type: "string" },
        description: "Columns that identify a record by themselves.",
      },
    },
    required: ["name", "kind", "columns", "indexes", "keys"],
    description: "What an attached database says of one of its tables.",
  },
  BlankPlace: { type: "string", enum: ["first", "last"] },
  BlankPolicy: { type: "string", enum: ["leave", "keep", "only"] },
  BucketUnit: {
    type: "string",
    enum: ["hour", "day", "week", "month", "quarter", "year", "finquarter", "finyear"],
  },
  CellState: {
    type: "string",
    enum: ["dated", "blank", "unreadable"],
    description: "The three states of a cell; every cell is in just one of them.",
  },
  Choice: {
    type: "object",
    properties: {
      value: { $ref: "#/components/schemas/RecordValue" },
      records: { type: "number" },
      barred: {
        type: "boolean",
        const: true,
        description: "Whether it is shown, and cannot be chosen.",
      },
    },
    required: ["value", "records"],
    description: "A value that can be chosen, with how many records it would give.",
  },
  ChoicesAnswer: {
    type: "object",
    properties: {
      column: { type: "string" },
      choices: { type: "array", items: { $ref: "#/components/schemas/Choice" } },
      groups: {
        type: "array",
        items: {
          type: "object",
          properties: {
            name: { type: "string" },
            values: { type: "array", items: { type: "string" } },
            records: { type: "number" },
          },
          required: ["name", "values", "records"],
        },
      },
      late: {
        type: "array",
        items: {
          type: "object",
          properties: {
            value: { $ref: "#/components/schemas/RecordValue" },
            records: { type: "number" },
          },
          required: ["value", "records"],
        },
        description: "What the caller chose lately, the latest first; only what there still is.",
      },
      blank: { type: "number" },
      unreadable: { type: "number" },
      more: { type: "boolean", description: "Whether there are more values than are told." },
    },
    required: ["column", "choices", "groups", "blank", "unreadable", "more"],
    description: "The values of a column in the records that pass all other conditions.",
  },
  ChoicesDeclaration: {
    type: "object",
    properties: {
      groups: {
        type: "object",
        additionalProperties: { type: "array", items: { type: "string" } },
        description: "Named groups of values: `pressing` for high and medium.",
      },
      hidden: {
        type: "array",
        items: { type: "string" },
        description: "Values that are not offered.",
      },
      barred: {
        type: "array",
        items: { type: "string" },
        description: "Values that are shown, and cannot be chosen.",
      },
      late: {
        type: "boolean",
        description: "Whether what a caller chose lately is told to them: yes unless told.",
      },
      values: {
        type: "boolean",
        description: "Whether its values are listed at all: yes unless told.",
      },
      blanks: {
        type: "boolean",
        description:
          "Whether those without a value, or that cannot be read, are on offer: yes unless told.",
      },
      calendar: {
        type: "boolean",
        description:
          "Of a column of dates: whether a calendar, and windows by name, are on offer: yes unless told.",
      },
      windows: { type: "boolean" },
    },
    description: "What is offered of a column's values; which records are shown is not affected.",
  },
  Clause: {
    type: "object",
    properties: {
      parameters: {
        type: "array",
        items: { type: "string" },
        description:
          "The parameters that it comes from; none where it is known by its column alone.",
      },
      column: {
        type: ["string", "null"],
        description: "The column that it speaks of; null for one of several.",
      },
      part: {
        type: "number",
        description: "Of a compound condition: its place among those that all must hold, from 0.",
      },
      isFixed: {
        type: "boolean",
        const: true,
        description: "Whether it is of the listing's own filter, which no caller can change.",
      },
      words: { type: "string" },
    },
    required: ["parameters", "column", "words"],
    description: "One part of what a listing is asked for, short enough to stand in a sentence.",
  },
  ColumnFormat: {
    type: "object",
    properties: {
      pattern: {
        type: "string",
        description: "Of dates: letters of UTS #35, such as `d MMMM yyyy`.",
      },
      locale: {
        type: "string",
        description: "The language of names, or of the signs in numbers; English unless told.",
      },
      decimals: { type: "number", description: "Of numbers: decimals, to which they are rounded." },
      prefix: {
        type: "string",
        description: "Of numbers: what stands before and behind, such as a currency's sign.",
      },
      suffix: { type: "string" },
      yes: { type: "string", description: "Of yes and no: the words for them." },
      no: { type: "string" },
    },
    description:
      "How a column's values are shown; filters and orders go by the values all the same.",
  },
  ColumnPreview: {
    type: "object",
    properties: {
      type: { $ref: "#/components/schemas/ColumnType" },
      sample: {
        anyOf: [{ $ref: "#/components/schemas/RecordSample" }, { type: "null" }],
        description: "Of which records all of this is; null for all.",
      },
      dated: { type: "number" },
      blank: { type: "number" },
      unreadable: { type: "number" },
      quality: { anyOf: [{ $ref: "#/components/schemas/DateQuality" }, { type: "null" }] },
      samples: { type: "array", items: { $ref: "#/components/schemas/ColumnSample" } },
    },
    required: ["type", "sample", "dated", "blank", "unreadable", "quality", "samples"],
    description: "What a column would come to under another reading.",
  },
  ColumnProfile: {
    type: "object",
    properties: {
      name: { type: "string" },
      type: { $ref: "#/components/schemas/ColumnType" },
      distinct: { type: "number", description: "Distinct texts that were looked at." },
      sample: {
        anyOf: [{ $ref: "#/components/schemas/RecordSample" }, { type: "null" }],
        description: "Of which records all of this is; null for all.",
      },
      recognition: {
        $ref: "#/components/schemas/Recognition",
        description: "What its values most likely are, whatever they are read as now.",
      },
      numbers: {
        $ref: "#/components/schemas/NumberCounts",
        description: "What its values are as numbers.",
      },
      dateCells: {
        $ref: "#/components/schemas/ShownDates",
        description: "Cells that the sheet which they came from shows as dates.",
      },
      reading: {
        anyOf: [{ $ref: "#/components/schemas/Reading" }, { type: "null" }],
        description: "The reading that the column has, else the likeliest; null where neither is.",
      },
      quality: {
        anyOf: [{ $ref: "#/components/schemas/DateQuality" }, { type: "null" }],
        description: "What its cells come to under that reading.",
      },
      samples: {
        type: "array",
        items: { $ref: "#/components/schemas/ColumnSample" },
        description:
          "The most frequent texts as they are stored, each with what it is under that reading.",
      },
      unreadable: {
        type: "array",
        items: {
          type: "object",
          properties: { id: { type: ["string", "number"] }, value: { type: "string" } },
          required: ["id", "value"],
        },
        description: "The first cells that could not be read, by record.",
      },
    },
    required: [
      "name",
      "type",
      "distinct",
      "sample",
      "recognition",
      "numbers",
      "reading",
      "quality",
      "samples",
      "unreadable",
    ],
    description: "A column of a source, looked at.",
  },
  ColumnSample: {
    anyOf: [
      {
        type: "object",
        properties: {
          state: { $ref: "#/components/schemas/CellState" },
          value: { type: ["string", "number", "null"], description: "The value as it came." },
          date: {
            type: "string",
            description:
              "`2024-03-05`, `2024-03-05T18:00:00`, or an instant with `Z`, by the kind of the reading.",
          },
          long: { type: "string", description: "The same in words: `5 March 2024`." },
          fault: { $ref: "#/components/schemas/RenderedFault" },
          notices: { type: "array", items: { $ref: "#/components/schemas/RenderedNotice" } },
          count: { type: "number" },
        },
        required: ["count", "state", "value"],
      },
      {
        type: "object",
        properties: { value: { type: ["string", "number", "null"] }, count: { type: "number" } },
        required: ["count", "value"],
      },
    ],
    description: "A text of a column, the number of its cells, and what it is under a reading.",
  },
  ColumnType: { type: "string", enum: ["text", "integer", "decimal", "boolean", "date"] },
  ColumnUnit: {
    type: "object",
    properties: {
      scale: {
        type: "number",
        description: "Decimals of the unit outside: 2 where 19.99 is stored as 1999.",
      },
    },
    required: ["scale"],
    description:
      "How a column's numbers are told outside: in units of which the stored ones are a decimal part.",
  },
  ColumnUnits: {
    type: "object",
    additionalProperties: { $ref: "#/components/schemas/ColumnUnit" },
    description: "Units by column.",
  },
  ComparedAnswer: {
    type: "object",
    properties: {
      total: { type: ["number", "null"] },
      totalIs: { $ref: "#/components/schemas/TotalIs" },
      records: { type: "array", items: { $ref: "#/components/schemas/RecordAnswer" } },
    },
    required: ["records", "total", "totalIs"],
    description: "Records that only one of two requests keeps: how many, and the first of them.",
  },
  CompoundExplained: {
    type: "object",
    properties: {
      asked: { type: "string" },
      canonical: { type: "string", description: "In CQL2, with its windows as they are written." },
      sentence: { type: "string" },
      contradictions: {
        type: "array",
        items: { type: "string" },
        description: "Why parts of it, or all of it, can keep nothing.",
      },
    },
    required: ["asked", "canonical", "sentence", "contradictions"],
    description: "A compound condition, as it came and as it was understood.",
  },
  ConditionExplained: {
    type: "object",
    properties: {
      column: { type: "string" },
      side: {
        type: "string",
        enum: ["inside", "outside"],
        description: "Which side of the interval is kept, and what happens to blanks.",
      },
      blanks: { $ref: "#/components/schemas/BlankPolicy" },
      parameters: {
        type: "array",
        items: { $ref: "#/components/schemas/AppliedDates" },
        description: "The parameters that it came from; none for a condition of the filter.",
      },
      intervals: {
        type: "array",
        items: { $ref: "#/components/schemas/IntervalText" },
        description: "What is compared: wall clock in the listing's zone, and universal time.",
      },
      recurring: {
        type: "array",
        items: { $ref: "#/components/schemas/RecurringText" },
        description: "Parts that recur, before they are laid out over the dates that there are.",
      },
    },
    required: ["column", "side", "blanks", "parameters", "intervals", "recurring"],
    description: "One condition, from what was sent to what is bound.",
  },
  Conspicuous: {
    type: "object",
    properties: {
      count: { type: "number" },
      examples: { type: "array", items: { type: "string" } },
    },
    required: ["count", "examples"],
    description: "Cells that stand out, with some of their values.",
  },
  CountedAnswer: {
    type: "object",
    properties: {
      total: { type: ["number", "null"] },
      totalIs: { $ref: "#/components/schemas/TotalIs" },
      faults: { type: "array", items: { $ref: "#/components/schemas/RenderedFault" } },
    },
    required: ["total", "totalIs"],
    description: "How many records a request keeps; where it cannot be so, what is wrong with it.",
  },
  CountsAnswer: {
    type: "object",
    properties: {
      counts: { type: "array", items: { $ref: "#/components/schemas/CountedAnswer" } },
    },
    required: ["counts"],
    description: "Several requests to one listing, counted, in the order in which they were sent.",
  },
  Database: { type: "string", enum: ["mariadb", "postgresql", "sqlite"] },
  DateCells: {
    type: "object",
    properties: {
      count: { type: "number" },
      encoding: { type: "string", enum: ["serial-1900", "serial-1904", "text"] },
    },
    required: ["count", "encoding"],
    description: "Cells that a sheet shows as dates, and how it stores them.",
  },
  DateComparison: { type: "string", enum: ["on", "notOn", "from", "after", "before", "to"] },
  DateEncoding: {
    type: "string",
    enum: ["native", "text", "serial-1900", "serial-1904", "epoch-s", "epoch-ms", "epoch-us"],
  },
  DateForm: {
    type: "object",
    properties: {
      encoding: {
        type: "string",
        enum: ["text", "serial-1900", "serial-1904", "epoch-s", "epoch-ms", "epoch-us"],
      },
      patterns: {
        type: "array",
        items: { type: "string" },
        description: "For text: UTS #35 patterns, tried in order.",
      },
      locales: { type: "array", items: { type: "string" } },
      twoDigitYearFrom: { type: "number" },
    },
    required: ["encoding"],
    description:
      "A form in which callers may send dates, beside ISO 8601: as a column's, without its kind.",
  },
  DateKind: { type: "string", enum: ["date", "local", "instant"] },
  DateParameter: {
    type: "object",
    properties: {
      name: { type: "string" },
      blanks: {
        $ref: "#/components/schemas/BlankPolicy",
        description: "What a caller's `<name>.blank` is when it is not sent.",
      },
      label: { type: "string" },
      description: { type: "string" },
      example: { type: "string" },
      required: { type: "boolean", description: "Whether a request without it is refused." },
      default: {
        anyOf: [{ type: "string" }, { type: "array", items: { type: "string" } }],
        description:
          "What takes effect where nothing is given, written as a caller would; of dates `extent` is shown to people and is no condition.",
      },
      type: {
        $ref: "#/components/schemas/DateParameterType",
        description:
          "`date` takes whole days and coarser, `moment` any precision, `window` a whole window.",
      },
      column: { type: "string" },
      comparison: { $ref: "#/components/schemas/DateComparison" },
      pair: {
        type: "string",
        description: "The two parameters that share a pair name are the two ends of one condition.",
      },
      accepts: {
        $ref: "#/components/schemas/DateForm",
        description:
          "A form in which callers may send the date, beside ISO 8601 and the notation of windows.",
      },
      fields: {
        type: "object",
        properties: {
          year: { type: "string" },
          month: { type: "string" },
          day: { type: "string" },
        },
        description:
          "Parameters that carry the year, the month and the day, instead of one that has all.",
      },
      limits: { $ref: "#/components/schemas/ParameterLimits" },
    },
    required: ["blanks", "column", "comparison", "name", "type"],
    description: "An input of dates.",
  },
  DateParameterType: { type: "string", enum: ["date", "moment", "window"] },
  DateQuality: {
    type: "object",
    properties: {
      dated: { type: "number" },
      blank: { type: "number" },
      unreadable: { type: "number" },
      days: {
        type: "number",
        description:
          "Different days, and the first and the last date in the standard form of the kind.",
      },
      earliest: { type: ["string", "null"] },
      latest: { type: ["string", "null"] },
      weekdays: {
        type: "array",
        items: { type: "number" },
        description: "From Monday on, and from January on.",
      },
      months: { type: "array", items: { type: "number" } },
      timeline: {
        type: "object",
        properties: {
          unit: { type: "string", enum: ["day", "month", "year"] },
          buckets: { type: "array", items: { $ref: "#/components/schemas/TimeBucket" } },
        },
        required: ["unit", "buckets"],
        description:
          "Over the plausible years, every bucket of it, empty ones too; see  {@link  PLAUSIBLE_YEARS } .",
      },
      gaps: {
        type: "array",
        items: {
          type: "object",
          properties: {
            after: { type: "string" },
            before: { type: "string" },
            days: { type: "number" },
          },
          required: ["after", "before", "days"],
        },
        description:
          "The longest stretches of days without a date, between two days that have one.",
      },
      farPast: {
        $ref: "#/components/schemas/Conspicuous",
        description: "Dates before the plausible years, and after them.",
      },
      farFuture: { $ref: "#/components/schemas/Conspicuous" },
      offsets: {
        type: "object",
        properties: { with: { type: "number" }, without: { type: "number" } },
        required: ["with", "without"],
        description: "Texts that say their UTC offset, and that do not.",
      },
      unreadables: {
        type: "array",
        items: {
          type: "object",
          properties: { value: { type: "string" }, count: { type: "number" } },
          required: ["value", "count"],
        },
        description: "Cells that are not dates, the most frequent texts first.",
      },
    },
    required: [
      "dated",
      "blank",
      "unreadable",
      "days",
      "earliest",
      "latest",
      "weekdays",
      "months",
      "timeline",
      "gaps",
      "farPast",
      "farFuture",
      "offsets",
      "unreadables",
    ],
    description: "What the cells of a column come to under a reading; counts are of cells.",
  },
  DeclarationDifference: {
    type: "object",
    properties: {
      isNew: { type: "boolean", description: "Whether there is no listing of the name yet." },
      changes: {
        type: "array",
        items: { type: "string" },
        description: "What it says otherwise than the one that serves, a line each.",
      },
      remarks: {
        type: "array",
        items: { type: "string" },
        description: "What is allowed in it, and seldom meant, a line each.",
      },
      records: {
        anyOf: [
          {
            type: "object",
            properties: {
              came: { $ref: "#/components/schemas/TotalAnswer" },
              left: { $ref: "#/components/schemas/TotalAnswer" },
            },
            required: ["came", "left"],
          },
          { type: "null" },
        ],
        description:
          "On today's data, with nothing asked: the records that would come and those that would leave. Null for a new listing, and where the two cannot be laid side by side.",
      },
    },
    required: ["isNew", "changes", "remarks", "records"],
    description: "What a declaration would change, were it applied.",
  },
  DerivedColumn: {
    anyOf: [
      {
        type: "object",
        properties: {
          kind: { type: "string", const: "days" },
          from: { type: "string" },
          to: { type: "string" },
        },
        required: ["kind", "from", "to"],
      },
      {
        type: "object",
        properties: {
          kind: { type: "string", const: "part" },
          part: { $ref: "#/components/schemas/DerivedPart" },
          column: { type: "string" },
        },
        required: ["kind", "part", "column"],
      },
    ],
    description:
      "A column that is worked out of others in the same record, for showing; a blank makes it blank.",
  },
  DerivedPart: { type: "string", enum: ["year", "quarter", "month", "day", "weekday", "hour"] },
  Explanation: {
    type: "object",
    properties: {
      sentence: { type: "string" },
      zone: { type: "string" },
      conditions: { type: "array", items: { $ref: "#/components/schemas/ConditionExplained" } },
      values: {
        type: "array",
        items: { $ref: "#/components/schemas/ValueExplained" },
        description: "The conditions on numbers, texts and choices.",
      },
      fixedFilter: {
        anyOf: [{ $ref: "#/components/schemas/CompoundExplained" }, { type: "null" }],
        description: "The filter that the listing sets for every caller; null for none.",
      },
      compound: {
        anyOf: [{ $ref: "#/components/schemas/CompoundExplained" }, { type: "null" }],
        description:
          "The caller's compound condition, from what was sent to what it comes to; null for none.",
      },
      names: {
        type: "object",
        additionalProperties: { type: "string" },
        description: "The columns of the statements, by their names in the database.",
      },
      statements: {
        type: "object",
        properties: {
          page: {
            $ref: "#/components/schemas/Statement",
            description:
              "The first of the page's statements; the others go on through the window until it is full.",
          },
          parts: { type: "number", description: "How many there are at most." },
          count: { anyOf: [{ $ref: "#/components/schemas/Statement" }, { type: "null" }] },
        },
        required: ["page", "parts", "count"],
      },
      notices: { type: "array", items: { $ref: "#/components/schemas/RenderedNotice" } },
      narrowing: { $ref: "#/components/schemas/Narrowing" },
      tables: {
        type: "object",
        properties: { opened: { type: "number" }, of: { type: "number" } },
        required: ["opened", "of"],
        description: "For a source of several tables: how many were opened, of all that there are.",
      },
      plan: {
        type: "object",
        properties: {
          page: { type: "array", items: { $ref: "#/components/schemas/PlanStep" } },
          count: { type: "array", items: { $ref: "#/components/schemas/PlanStep" } },
        },
        required: ["page", "count"],
        description: "How the database goes about it, in words.",
      },
      neighbours: {
        type: "array",
        items: { $ref: "#/components/schemas/Neighbours" },
        description: "For each date condition the dates nearest to its edges.",
      },
      empty: {
        type: "array",
        items: { type: "string" },
        description: "Why there is no record; nothing where there is one.",
      },
    },
    required: [
      "sentence",
      "zone",
      "conditions",
      "values",
      "fixedFilter",
      "compound",
      "names",
      "statements",
      "notices",
      "narrowing",
      "plan",
      "neighbours",
      "empty",
    ],
    description: "What was asked, what was understood, and what the database is asked.",
  },
  ExtentAnswer: {
    type: "object",
    properties: {
      extent: {
        type: "object",
        additionalProperties: {
          type: "object",
          properties: { first: { type: ["string", "null"] }, last: { type: ["string", "null"] } },
          required: ["first", "last"],
        },
      },
    },
    required: ["extent"],
    description: "The first and last dates of each date column.",
  },
  FaultCode: {
    type: "string",
    enum: [
      "date.form",
      "date.ambiguous",
      "date.order",
      "date.impossible",
      "date.timeRefused",
      "date.offsetRefused",
      "date.pattern",
      "date.name",
      "date.spelling",
      "date.trailing",
      "date.number",
      "date.type",
      "date.timeOnly",
      "date.skipped",
      "storage.reading",
      "attach.host",
      "attach.own",
      "attach.server",
      "attach.writer",
      "attach.pattern",
      "source.stacking",
      "attach.key",
      "locale.unknown",
      "number.form",
      "window.syntax",
      "window.form",
      "window.word",
      "window.number",
      "window.tooFar",
      "window.tooLong",
      "window.oneDate",
      "window.longerThan",
      "window.openEnd",
      "window.outOfLimits",
      "ladder.untiled",
      "rung.unknown",
      "field.value",
      "field.missing",
      "calendar.setting",
      "window.reversed",
      "parameter.unknown",
      "parameter.repeated",
      "parameter.notAllowed",
      "parameter.column",
      "parameter.required",
      "parameter.list",
      "parameter.choice",
      "parameter.unused",
      "number.scale",
      "range.form",
      "range.reversed",
      "unit.form",
      "parameter.value",
      "path.form",
      "order.perValue",
      "source.inside",
      "order.repeated",
      "order.tooMany",
      "order.severalTables",
      "order.unknown",
      "page.size",
      "cursor.unreadable",
      "cursor.ended",
      "cursor.otherQuery",
      "zone.unknown",
      "column.unknown",
      "column.notDate",
      "column.finerThanDay",
      "column.notNumber",
      "column.notText",
      "column.otherType",
      "column.noState",
      "filter.tooLarge",
      "filter.syntax",
      "filter.word",
      "filter.value",
      "reading.pattern",
      "name.form",
      "name.taken",
      "name.reserved",
      "name.unknown",
      "parameter.conflict",
      "column.constant",
      "column.notChosen",
      "column.notBoolean",
      "boolean.form",
      "column.notOrdered",
      "parameter.precision",
      "parameter.comparison",
      "parameter.setting",
      "pair.incomplete",
      "document.shape",
      "file.type",
      "file.encoding",
      "file.broken",
      "file.headings",
      "file.sheet",
      "file.limit",
      "listing.breaks",
      "file.same",
      "row.cells",
      "row.place",
      "row.key",
      "row.form",
    ],
    description: "A stable code; see the registry for what each means.",
  },
  FileFormat: {
    type: "string",
    enum: ["delimited", "ndjson", "json", "xlsx", "ods"],
    description: "The forms in which a file's records can be written.",
  },
  FileLook: {
    type: "object",
    properties: {
      format: { $ref: "#/components/schemas/FileFormat" },
      encoding: { type: "string" },
      delimiter: { type: "string" },
      sheet: { type: "string" },
      headingRows: {
        type: "number",
        description: "Rows of headings, and the line on which they end; 0 for a file without any.",
      },
      headingLine: { type: "number" },
      above: { type: "array", items: { type: "string" }, description: "Texts above the headings." },
      remarks: {
        type: "array",
        items: { type: "string" },
        description: "What was decided about the file that its sender may want to know.",
      },
      bytes: { type: "number" },
      sha256: { type: "string" },
      sheets: {
        type: "array",
        items: {
          type: "object",
          properties: {
            name: { type: "string" },
            hidden: { type: "boolean" },
            headings: { type: "array", items: { type: "string" } },
            reason: {
              type: ["string", "null"],
              description: "Why it cannot be taken as it is, or null.",
            },
          },
          required: ["name", "hidden", "headings", "reason"],
        },
      },
      headings: { type: "array", items: { type: "string" } },
      records: {
        type: ["number", "null"],
        description:
          "Rows below the headings, and those of them that would be refused; null where too many.",
      },
      refused: { type: ["number", "null"] },
      sample: {
        type: "array",
        items: {
          type: "object",
          properties: {
            line: { type: "number" },
            cells: { type: "array", items: { type: ["string", "null"] } },
          },
          required: ["line", "cells"],
        },
        description: "The first records as they came.",
      },
    },
    required: [
      "above",
      "bytes",
      "format",
      "headingLine",
      "headingRows",
      "headings",
      "records",
      "refused",
      "remarks",
      "sample",
      "sha256",
      "sheets",
    ],
    description: "A file, looked at without anything being stored.",
  },
  Holding: {
    anyOf: [
      {
        type: "object",
        properties: {
          type: { type: "string", enum: ["text", "integer", "decimal", "float", "boolean"] },
        },
        required: ["type"],
      },
      {
        type: "object",
        properties: { type: { type: "string", const: "other" } },
        required: ["type"],
      },
      {
        type: "object",
        properties: { type: { type: "string", const: "date" } },
        required: ["type"],
      },
      {
        type: "object",
        properties: {
          type: { type: "string", const: "timestamp" },
          digits: { type: "number", description: "Digits of a second, 0 to 6." },
          zoned: { type: "boolean" },
        },
        required: ["type", "digits", "zoned"],
      },
    ],
    description: "What the database says that a column holds.",
  },
  Holiday: {
    type: "object",
    properties: { day: { type: "string" }, label: { type: "string" } },
    required: ["day", "label"],
    description: "A day off, in ISO 8601, and what it is called.",
  },
  HolidayListDescription: {
    type: "object",
    properties: {
      name: { type: "string" },
      days: { type: "number", description: "How many there are." },
      first: { type: ["string", "null"] },
      last: { type: ["string", "null"] },
      takenAt: { type: "string" },
    },
    required: ["name", "days", "first", "last", "takenAt"],
    description: "A list of days off.",
  },
  InsideSource: {
    type: "object",
    properties: {
      source: { type: "string" },
      column: { type: "string" },
      each: {
        type: "string",
        description:
          "Where the elements are, as a path into a text (RFC 9535); `$[*]` unless told.",
      },
      values: {
        type: "object",
        additionalProperties: {
          type: "object",
          properties: {
            path: { type: "string" },
            column: { $ref: "#/components/schemas/NewColumn" },
          },
          required: ["path", "column"],
        },
        description: "The values of an element, by the name of their column.",
      },
    },
    required: ["source", "column", "each", "values"],
    description: "A source that is the values inside a column of JSON texts of another.",
  },
  InspectedCell: {
    type: "object",
    properties: {
      column: { type: "string" },
      type: { $ref: "#/components/schemas/ColumnType" },
      reading: {
        $ref: "#/components/schemas/Reading",
        description: "For dates: what they mean, and how they are stored.",
      },
      raw: { type: ["string", "null"] },
      state: { type: "string", enum: ["dated", "blank", "unreadable", "text"] },
      date: { type: "string", description: "In standard form and in words, where it is a date." },
      long: { type: "string" },
      fault: { $ref: "#/components/schemas/RenderedFault" },
    },
    required: ["column", "type", "raw", "state"],
    description: "A cell as it came and as it is read.",
  },
  IntervalText: {
    type: "object",
    properties: {
      start: { type: ["string", "null"] },
      end: { type: ["string", "null"] },
      startLocal: { type: ["string", "null"] },
      endLocal: { type: ["string", "null"] },
    },
    required: ["start", "end", "startLocal", "endLocal"],
    description:
      "An interval as it is sent: instants in UTC, and the wall clock in the zone; null is open.",
  },
  KeyDescription: {
    type: "object",
    properties: {
      id: { type: "number" },
      name: { type: "string" },
      role: { $ref: "#/components/schemas/Role" },
      listings: {
        anyOf: [{ type: "array", items: { type: "string" } }, { type: "null" }],
        description: "The listings that a reader may read; null for all.",
      },
      createdAt: { type: "string" },
      expiresAt: {
        type: ["string", "null"],
        description: "From when on it is none any more; null for a key that does not lapse.",
      },
      lastUsedAt: {
        type: ["string", "null"],
        description: "When it was last shown; null until it is.",
      },
    },
    required: ["id", "name", "role", "listings", "createdAt", "expiresAt", "lastUsedAt"],
    description: "A key as it is listed: never the key itself.",
  },
  LadderDescription: {
    type: "object",
    properties: {
      name: { type: "string" },
      label: { type: "string" },
      zone: { type: "string", description: "The zone in which it was seen to tile." },
      rungs: { type: "array", items: { $ref: "#/components/schemas/ListedWindowAnswer" } },
    },
    required: ["name", "label", "zone", "rungs"],
    description: "A ladder with the dates of its rungs.",
  },
  ListedWindowAnswer: {
    type: "object",
    properties: {
      name: { type: "string" },
      label: { type: "string" },
      window: { type: "string", description: "In the notation of windows." },
      sentence: { type: "string" },
      intervals: { type: "array", items: { $ref: "#/components/schemas/IntervalText" } },
    },
    required: ["intervals", "label", "name", "sentence", "window"],
    description: "A named window with its dates, as it is sent.",
  },
  ListingCalendar: {
    type: "object",
    properties: {
      weekStart: { type: "string", description: "The first day of a week, `MO` unless told." },
      firstWeekDays: {
        type: "number",
        description:
          "Days of a week that must lie in the year whose first week it is, 4 unless told.",
      },
      finYearStart: {
        type: "string",
        description:
          "The first day of the financial year as `MM-DD`, 1 to 28 of a month; `01-01` unless told.",
      },
      workdays: {
        type: "array",
        items: { type: "string" },
        description: "Monday to Friday unless told.",
      },
      holidays: { type: "array", items: { type: "string" }, description: "Days off, in ISO 8601." },
      holidayLists: {
        type: "array",
        items: { type: "string" },
        description: "Lists of days off that the service holds, by name.",
      },
    },
    description: "How a listing's weeks, financial years and working days are counted.",
  },
  ListingDeclaration: {
    type: "object",
    properties: {
      name: { type: "string" },
      title: { type: "string" },
      source: { type: "string" },
      zone: { type: "string", description: "The IANA zone in which days begin and end." },
      mainDate: {
        type: "string",
        description: "The date column that the listing's window speaks of.",
      },
      parameters: { type: "array", items: { $ref: "#/components/schemas/ParameterDeclaration" } },
      columns: {
        type: "array",
        items: { type: "string" },
        description:
          "The columns shown, in order; empty for all of the source's, and all that are made.",
      },
      choices: {
        type: "object",
        additionalProperties: { $ref: "#/components/schemas/ChoicesDeclaration" },
        description: "What is offered of a column's values to choose from, by column.",
      },
      derived: {
        type: "object",
        additionalProperties: { $ref: "#/components/schemas/DerivedColumn" },
        description: "Columns that are worked out of others, by the names they have here.",
      },
      relations: {
        type: "object",
        additionalProperties: { $ref: "#/components/schemas/RelationDeclaration" },
        description: "Records of other sources beside each record, by the names of the relations.",
      },
      formats: {
        type: "object",
        additionalProperties: { $ref: "#/components/schemas/ColumnFormat" },
        description: "How values are shown where they are shown to people, by column.",
      },
      labels: {
        type: "object",
        additionalProperties: { type: "string" },
        description:
          "What headings are called outside, by column; the name of the column unless told.",
      },
      order: {
        type: "object",
        properties: {
          allowed: {
            type: "array",
            items: { type: "string" },
            description: "The columns that callers may order by.",
          },
          default: {
            type: "string",
            description: "One of them, with `-` before it for descending.",
          },
          ties: {
            type: "array",
            items: { type: "string" },
            description:
              "What orders records that the asked order does not tell apart, before the key does.",
          },
          blanks: {
            $ref: "#/components/schemas/BlankPlace",
            description:
              "Where records without a value stand: first ascending and last descending unless told.",
          },
        },
        required: ["allowed", "default"],
      },
      page: {
        type: "object",
        properties: {
          size: { type: "number", description: "Records on a page unless told, and at most." },
          most: { type: "number" },
          numbered: {
            type: "boolean",
            description:
              "Whether pages are asked for by their number too, which reads all those before.",
          },
        },
        required: ["size", "most"],
      },
      rows: {
        $ref: "#/components/schemas/NestedRows",
        description:
          "Of a source with values inside: each record once, or a line for each value, unless told.",
      },
      reversed: {
        $ref: "#/components/schemas/ReversedPolicy",
        description: "What happens to two dates in reverse order.",
      },
      calendar: { $ref: "#/components/schemas/ListingCalendar" },
      fixed: {
        type: "string",
        description:
          "A condition in CQL2 that no caller can change, and inside which everything is told.",
      },
      describeFixedFilter: {
        type: ["boolean", "string"],
        description:
          "Whether readers are shown that condition in words, or other words in its place. By default they are where they may see all of its columns; authors always are.",
      },
      units: {
        $ref: "#/components/schemas/ColumnUnits",
        description: "The units in which columns of numbers are told and asked for, by column.",
      },
      freshness: {
        type: "object",
        properties: { current: { type: "string" }, past: { type: "string" } },
        description:
          "How long an answer may be held without asking again, as ISO 8601 durations: of a window that is closed and past as long as `past` says. Not at all unless told.",
      },
      origins: {
        type: "array",
        items: { type: "string" },
        description:
          "The places on the web whose pages may read the listing, such as `https://vale.example`.",
      },
      permits: {
        type: "object",
        properties: {
          asOf: { $ref: "#/components/schemas/Permit" },
          zone: { $ref: "#/components/schemas/Permit" },
        },
        description:
          "From which role on callers may say when and where they ask: makers unless told.",
      },
      unknown: {
        type: "string",
        enum: ["refuse", "ignore"],
        description:
          "What becomes of parameters that the listing does not have: refused unless told.",
      },
      filter: {
        type: "object",
        properties: {
          columns: {
            anyOf: [
              { type: "array", items: { type: "string" } },
              { type: "string", const: "all" },
            ],
            description:
              "The columns that they may speak of: `all` that are shown, or these; none where it is empty.",
          },
        },
        required: ["columns"],
        description: "Lets callers send compound conditions in CQL2, as the parameter `filter`.",
      },
    },
    required: [
      "name",
      "title",
      "source",
      "zone",
      "mainDate",
      "parameters",
      "columns",
      "order",
      "page",
      "reversed",
    ],
    description:
      "A named, served, filtered view of a source, already parsed and completed with defaults.",
  },
  ListingDescription: {
    type: "object",
    properties: {
      version: { type: "number" },
      broken: {
        type: "string",
        description: "Why it cannot be served, where it no longer fits its source.",
      },
      name: { type: "string" },
      title: { type: "string" },
      source: { type: "string" },
      zone: { type: "string", description: "The IANA zone in which days begin and end." },
      mainDate: {
        type: "string",
        description: "The date column that the listing's window speaks of.",
      },
      parameters: { type: "array", items: { $ref: "#/components/schemas/ParameterDeclaration" } },
      columns: {
        type: "array",
        items: { type: "string" },
        description:
          "The columns shown, in order; empty for all of the source's, and all that are made.",
      },
      choices: {
        type: "object",
        additionalProperties: { $ref: "#/components/schemas/ChoicesDeclaration" },
        description: "What is offered of a column's values to choose from, by column.",
      },
      derived: {
        type: "object",
        additionalProperties: { $ref: "#/components/schemas/DerivedColumn" },
        description: "Columns that are worked out of others, by the names they have here.",
      },
      relations: {
        type: "object",
        additionalProperties: { $ref: "#/components/schemas/RelationDeclaration" },
        description: "Records of other sources beside each record, by the names of the relations.",
      },
      formats: {
        type: "object",
        additionalProperties: { $ref: "#/components/schemas/ColumnFormat" },
        description: "How values are shown where they are shown to people, by column.",
      },
      labels: {
        type: "object",
        additionalProperties: { type: "string" },
        description:
          "What headings are called outside, by column; the name of the column unless told.",
      },
      order: {
        type: "object",
        properties: {
          allowed: {
            type: "array",
            items: { type: "string" },
            description: "The columns that callers may order by.",
          },
          default: {
            type: "string",
            description: "One of them, with `-` before it for descending.",
          },
          ties: {
            type: "array",
            items: { type: "string" },
            description:
              "What orders records that the asked order does not tell apart, before the key does.",
          },
          blanks: {
            $ref: "#/components/schemas/BlankPlace",
            description:
              "Where records without a value stand: first ascending and last descending unless told.",
          },
        },
        required: ["allowed", "default"],
      },
      page: {
        type: "object",
        properties: {
          size: { type: "number", description: "Records on a page unless told, and at most." },
          most: { type: "number" },
          numbered: {
            type: "boolean",
            description:
              "Whether pages are asked for by their number too, which reads all those before.",
          },
        },
        required: ["size", "most"],
      },
      rows: {
        $ref: "#/components/schemas/NestedRows",
        description:
          "Of a source with values inside: each record once, or a line for each value, unless told.",
      },
      reversed: {
        $ref: "#/components/schemas/ReversedPolicy",
        description: "What happens to two dates in reverse order.",
      },
      calendar: { $ref: "#/components/schemas/ListingCalendar" },
      fixed: {
        type: "string",
        description:
          "A condition in CQL2 that no caller can change, and inside which everything is told.",
      },
      describeFixedFilter: {
        type: ["boolean", "string"],
        description:
          "Whether readers are shown that condition in words, or other words in its place. By default they are where they may see all of its columns; authors always are.",
      },
      units: {
        $ref: "#/components/schemas/ColumnUnits",
        description: "The units in which columns of numbers are told and asked for, by column.",
      },
      freshness: {
        type: "object",
        properties: { current: { type: "string" }, past: { type: "string" } },
        description:
          "How long an answer may be held without asking again, as ISO 8601 durations: of a window that is closed and past as long as `past` says. Not at all unless told.",
      },
      origins: {
        type: "array",
        items: { type: "string" },
        description:
          "The places on the web whose pages may read the listing, such as `https://vale.example`.",
      },
      permits: {
        type: "object",
        properties: {
          asOf: { $ref: "#/components/schemas/Permit" },
          zone: { $ref: "#/components/schemas/Permit" },
        },
        description:
          "From which role on callers may say when and where they ask: makers unless told.",
      },
      unknown: {
        type: "string",
        enum: ["refuse", "ignore"],
        description:
          "What becomes of parameters that the listing does not have: refused unless told.",
      },
      filter: {
        type: "object",
        properties: {
          columns: {
            anyOf: [
              { type: "array", items: { type: "string" } },
              { type: "string", const: "all" },
            ],
            description:
              "The columns that they may speak of: `all` that are shown, or these; none where it is empty.",
          },
        },
        required: ["columns"],
        description: "Lets callers send compound conditions in CQL2, as the parameter `filter`.",
      },
    },
    required: [
      "columns",
      "mainDate",
      "name",
      "order",
      "page",
      "parameters",
      "reversed",
      "source",
      "title",
      "version",
      "zone",
    ],
    description: "A listing as it is listed.",
  },
  ListingDetails: {
    type: "object",
    properties: {
      shown: {
        type: "array",
        items: {
          type: "object",
          properties: {
            name: { type: "string" },
            type: { $ref: "#/components/schemas/ColumnType" },
            kind: { type: "string", enum: ["date", "local", "instant"] },
          },
          required: ["name", "type"],
        },
      },
      key: { type: ["string", "null"] },
      version: { type: "number" },
      broken: {
        type: "string",
        description: "Why it cannot be served, where it no longer fits its source.",
      },
      name: { type: "string" },
      title: { type: "string" },
      source: { type: "string" },
      zone: { type: "string", description: "The IANA zone in which days begin and end." },
      mainDate: {
        type: "string",
        description: "The date column that the listing's window speaks of.",
      },
      parameters: { type: "array", items: { $ref: "#/components/schemas/ParameterDeclaration" } },
      columns: {
        type: "array",
        items: { type: "string" },
        description:
          "The columns shown, in order; empty for all of the source's, and all that are made.",
      },
      choices: {
        type: "object",
        additionalProperties: { $ref: "#/components/schemas/ChoicesDeclaration" },
        description: "What is offered of a column's values to choose from, by column.",
      },
      derived: {
        type: "object",
        additionalProperties: { $ref: "#/components/schemas/DerivedColumn" },
        description: "Columns that are worked out of others, by the names they have here.",
      },
      relations: {
        type: "object",
        additionalProperties: { $ref: "#/components/schemas/RelationDeclaration" },
        description: "Records of other sources beside each record, by the names of the relations.",
      },
      formats: {
        type: "object",
        additionalProperties: { $ref: "#/components/schemas/ColumnFormat" },
        description: "How values are shown where they are shown to people, by column.",
      },
      labels: {
        type: "object",
        additionalProperties: { type: "string" },
        description:
          "What headings are called outside, by column; the name of the column unless told.",
      },
      order: {
        type: "object",
        properties: {
          allowed: {
            type: "array",
            items: { type: "string" },
            description: "The columns that callers may order by.",
          },
          default: {
            type: "string",
            description: "One of them, with `-` before it for descending.",
          },
          ties: {
            type: "array",
            items: { type: "string" },
            description:
              "What orders records that the asked order does not tell apart, before the key does.",
          },
          blanks: {
            $ref: "#/components/schemas/BlankPlace",
            description:
              "Where records without a value stand: first ascending and last descending unless told.",
          },
        },
        required: ["allowed", "default"],
      },
      page: {
        type: "object",
        properties: {
          size: { type: "number", description: "Records on a page unless told, and at most." },
          most: { type: "number" },
          numbered: {
            type: "boolean",
            description:
              "Whether pages are asked for by their number too, which reads all those before.",
          },
        },
        required: ["size", "most"],
      },
      rows: {
        $ref: "#/components/schemas/NestedRows",
        description:
          "Of a source with values inside: each record once, or a line for each value, unless told.",
      },
      reversed: {
        $ref: "#/components/schemas/ReversedPolicy",
        description: "What happens to two dates in reverse order.",
      },
      calendar: { $ref: "#/components/schemas/ListingCalendar" },
      fixed: {
        type: "string",
        description:
          "A condition in CQL2 that no caller can change, and inside which everything is told.",
      },
      describeFixedFilter: {
        type: ["boolean", "string"],
        description:
          "Whether readers are shown that condition in words, or other words in its place. By default they are where they may see all of its columns; authors always are.",
      },
      units: {
        $ref: "#/components/schemas/ColumnUnits",
        description: "The units in which columns of numbers are told and asked for, by column.",
      },
      freshness: {
        type: "object",
        properties: { current: { type: "string" }, past: { type: "string" } },
        description:
          "How long an answer may be held without asking again, as ISO 8601 durations: of a window that is closed and past as long as `past` says. Not at all unless told.",
      },
      origins: {
        type: "array",
        items: { type: "string" },
        description:
          "The places on the web whose pages may read the listing, such as `https://vale.example`.",
      },
      permits: {
        type: "object",
        properties: {
          asOf: { $ref: "#/components/schemas/Permit" },
          zone: { $ref: "#/components/schemas/Permit" },
        },
        description:
          "From which role on callers may say when and where they ask: makers unless told.",
      },
      unknown: {
        type: "string",
        enum: ["refuse", "ignore"],
        description:
          "What becomes of parameters that the listing does not have: refused unless told.",
      },
      filter: {
        type: "object",
        properties: {
          columns: {
            anyOf: [
              { type: "array", items: { type: "string" } },
              { type: "string", const: "all" },
            ],
            description:
              "The columns that they may speak of: `all` that are shown, or these; none where it is empty.",
          },
        },
        required: ["columns"],
        description: "Lets callers send compound conditions in CQL2, as the parameter `filter`.",
      },
    },
    required: [
      "columns",
      "key",
      "mainDate",
      "name",
      "order",
      "page",
      "parameters",
      "reversed",
      "shown",
      "source",
      "title",
      "version",
      "zone",
    ],
    description: "A listing with what a page needs to draw it.",
  },
  ListingVersion: {
    type: "object",
    properties: {
      version: { type: "number" },
      at: {
        type: ["string", "null"],
        description: "When it was declared; null where that is not known.",
      },
      by: {
        type: ["string", "null"],
        description: "The name of the key that declared it; null where that is not known.",
      },
      changes: {
        type: "array",
        items: { type: "string" },
        description: "What it says otherwise than the one before, a line each.",
      },
      isServing: { type: "boolean" },
    },
    required: ["version", "at", "by", "changes", "isServing"],
    description: "A version of a listing.",
  },
  LoadDescription: {
    type: "object",
    properties: {
      load: { type: "number" },
      mode: { $ref: "#/components/schemas/LoadMode" },
      state: { type: "string", enum: ["running", "done", "failed", "cancelled"] },
      file: { type: ["string", "null"] },
      bytes: { type: "number" },
      sha256: { type: "string" },
      startedAt: { type: "string" },
      endedAt: { type: ["string", "null"] },
      refused: { type: "number" },
      records: { type: ["number", "null"] },
      problem: { type: ["string", "null"] },
      inUse: { type: "boolean", description: "Whether the records are what this load made them." },
    },
    required: [
      "load",
      "mode",
      "state",
      "file",
      "bytes",
      "sha256",
      "startedAt",
      "endedAt",
      "refused",
      "records",
      "problem",
      "inUse",
    ],
    description: "A load of the past.",
  },
  LoadMode: {
    type: "string",
    enum: ["replace", "append", "update"],
    description:
      "How a file is taken: instead of the records, besides them, or over those of the same keys.",
  },
  LoadProgress: {
    type: "object",
    properties: {
      mode: {
        anyOf: [{ $ref: "#/components/schemas/LoadMode" }, { type: "string", const: "settle" }],
      },
      file: { type: ["string", "null"] },
      stage: { type: "string", enum: ["receiving", "reading", "ending"] },
      bytes: {
        type: "number",
        description:
          "Bytes that have arrived, and the share of the file that has been read, 0 to 1.",
      },
      share: { type: "number" },
      records: { type: "number" },
      refused: { type: "number" },
      startedAt: { type: "string" },
    },
    required: ["mode", "file", "stage", "bytes", "share", "records", "refused", "startedAt"],
    description: "A load that runs at this moment.",
  },
  LoadReport: {
    type: "object",
    properties: {
      source: { type: "string" },
      load: { type: ["number", "null"], description: "Null where no file was taken." },
      records: { type: "number", description: "Records of the source now." },
      added: {
        type: "number",
        description: "Records that are new, and that are others than before by their key.",
      },
      changed: { type: "number" },
      refused: { type: "number", description: "Rows of the file that could not be taken at all." },
      file: {
        type: "object",
        properties: {
          headings: { type: "array", items: { type: "string" } },
          format: { $ref: "#/components/schemas/FileFormat" },
          encoding: { type: "string" },
          delimiter: { type: "string" },
          sheet: { type: "string" },
          headingRows: {
            type: "number",
            description:
              "Rows of headings, and the line on which they end; 0 for a file without any.",
          },
          headingLine: { type: "number" },
          above: {
            type: "array",
            items: { type: "string" },
            description: "Texts above the headings.",
          },
          remarks: {
            type: "array",
            items: { type: "string" },
            description: "What was decided about the file that its sender may want to know.",
          },
        },
        required: ["above", "format", "headingLine", "headingRows", "headings", "remarks"],
        description: "How the file was read.",
      },
      dateCells: {
        type: "object",
        additionalProperties: { $ref: "#/components/schemas/DateCells" },
        description: "Columns with cells that the sheet shows as dates.",
      },
      unchanged: {
        type: "boolean",
        description: "Whether the same file had been taken before, so that nothing was done.",
      },
      columns: {
        type: "object",
        additionalProperties: {
          type: "object",
          properties: {
            read: { type: "number" },
            blank: { type: "number" },
            unreadable: { type: "number" },
            examples: {
              type: "array",
              items: {
                type: "object",
                properties: {
                  line: { type: "number" },
                  record: { type: "string" },
                  parameter: { type: "string" },
                  path: { type: "string" },
                  column: { type: "string" },
                  value: { type: "string" },
                  code: { $ref: "#/components/schemas/FaultCode" },
                  message: { type: "string" },
                  accepted: { type: "string" },
                  nearest: { type: "string" },
                },
                required: ["code", "message"],
              },
              description:
                "The first unreadable cells: by line of the file, or by record where none was taken.",
            },
          },
          required: ["read", "blank", "unreadable", "examples"],
        },
      },
    },
    required: ["source", "load", "records", "added", "changed", "refused", "columns"],
    description: "What was made of a file, column by column; text columns are taken as they are.",
  },
  NamedWindow: {
    type: "object",
    properties: {
      name: { type: "string" },
      label: { type: "string" },
      window: { type: "string", description: "In the notation of windows." },
    },
    required: ["name", "label", "window"],
    description: "A window with a label, for people who pick.",
  },
  Narrowing: {
    type: "object",
    properties: {
      records: { type: ["number", "null"] },
      steps: {
        type: "array",
        items: {
          type: "object",
          properties: {
            condition: { type: "string" },
            isFixed: {
              type: "boolean",
              const: true,
              description: "Whether it is of the listing's own filter.",
            },
            alone: {
              type: ["number", "null"],
              description: "Of all records, by this condition alone.",
            },
            inTurn: {
              type: ["number", "null"],
              description: "After this condition and all those before it.",
            },
          },
          required: ["condition", "alone", "inTurn"],
        },
      },
      without: {
        type: "object",
        additionalProperties: {
          type: "object",
          properties: {
            blank: { type: ["number", "null"] },
            unreadable: { type: ["number", "null"] },
          },
          required: ["blank", "unreadable"],
        },
        description: "For each column of a condition how many of its cells are no values.",
      },
    },
    required: ["records", "steps", "without"],
    description:
      "How many records there are, and how many each condition lets through; null for not counted.",
  },
  Neighbours: {
    type: "object",
    properties: {
      column: { type: "string" },
      edge: { type: "string", enum: ["start", "end"] },
      at: { type: "string", description: "The edge on the wall clock of the listing's zone." },
      before: {
        type: ["string", "null"],
        description:
          "The last date before it, and the first at or after it; null where there is none.",
      },
      after: { type: ["string", "null"] },
    },
    required: ["column", "edge", "at", "before", "after"],
    description: "The dates nearest to one edge of a window.",
  },
  NestedRows: { type: "string", enum: ["records", "values"] },
  NewColumn: {
    anyOf: [
      {
        type: "object",
        properties: { type: { type: "string", enum: ["text", "integer", "decimal", "boolean"] } },
        required: ["type"],
      },
      {
        type: "object",
        properties: {
          type: { type: "string", const: "date" },
          reading: { $ref: "#/components/schemas/Reading" },
        },
        required: ["type", "reading"],
      },
    ],
    description: "A column as it is declared.",
  },
  NoticeCode: {
    type: "string",
    enum: [
      "window.swapped",
      "range.swapped",
      "window.empty",
      "window.notBegun",
      "window.lacksDay",
      "window.dayOff",
      "window.noLength",
      "window.skippedDay",
      "window.noMatch",
      "window.cut",
      "value.dashes",
      "edge.repeated",
      "edge.skipped",
      "number.unit",
      "value.list",
      "parameter.ignored",
      "days.notCounted",
      "serial.shifted",
      "edge.midnight",
      "value.trimmed",
    ],
    description: "A stable code of a notice.",
  },
  NumberCounts: {
    type: "object",
    properties: {
      blank: { type: "number" },
      whole: { type: "number" },
      fractional: { type: "number" },
      other: { type: "number", description: "Neither blank nor a number." },
      yesOrNo: {
        type: "number",
        description: "Yes or no in some spelling; `1` and `0` are numbers too.",
      },
    },
    required: ["blank", "whole", "fractional", "other", "yesOrNo"],
    description:
      "What the values of a column are as numbers, and as yes and no; counts are of cells.",
  },
  ParameterDeclaration: {
    anyOf: [
      { $ref: "#/components/schemas/DateParameter" },
      { $ref: "#/components/schemas/ValueParameter" },
    ],
    description: "A typed input of a listing.",
  },
  ParameterLimits: {
    type: "object",
    properties: {
      earliest: {
        type: "string",
        description:
          "The first and the last date that may be asked for: each one part of a window.",
      },
      latest: { type: "string" },
      longest: {
        type: "string",
        description:
          "The longest stretch, as an ISO 8601 duration; of a pair, one of the two says it.",
      },
    },
    description: "What a parameter of dates may ask for at most.",
  },
  Permit: { type: "string", enum: ["reader", "maker", "owner", "nobody"] },
  PermittedKind: {
    type: "object",
    properties: {
      kind: { type: "string" },
      example: { type: "string" },
      columns: {
        type: "array",
        items: {
          type: "object",
          properties: {
            column: { type: "string" },
            comparison: { $ref: "#/components/schemas/DateComparison" },
            parameter: { type: "string" },
          },
          required: ["column", "comparison", "parameter"],
        },
      },
    },
    required: ["kind", "example", "columns"],
    description: "What a kind of window can be compared with in a listing.",
  },
  PlanStep: {
    type: "object",
    properties: {
      words: { type: "string" },
      records: { type: "number", description: "Records that it expects to read." },
      advice: {
        type: "string",
        description: "What would serve better, where it reads far more than it needs.",
      },
    },
    required: ["words", "records"],
    description: "One step of the database's plan.",
  },
  ProblemDocument: {
    type: "object",
    properties: {
      type: { type: "string" },
      title: { type: "string" },
      status: { type: "number" },
      detail: { type: "string" },
      instance: { type: "string" },
      faults: { type: "array", items: { $ref: "#/components/schemas/RenderedFault" } },
    },
    required: ["type", "title", "status", "detail", "instance", "faults"],
    description: "A problem document (RFC 9457).",
  },
  ReadAnswer: {
    type: "object",
    properties: {
      state: { $ref: "#/components/schemas/CellState" },
      value: { type: ["string", "number", "null"], description: "The value as it came." },
      date: {
        type: "string",
        description:
          "`2024-03-05`, `2024-03-05T18:00:00`, or an instant with `Z`, by the kind of the reading.",
      },
      long: { type: "string", description: "The same in words: `5 March 2024`." },
      fault: { $ref: "#/components/schemas/RenderedFault" },
      notices: { type: "array", items: { $ref: "#/components/schemas/RenderedNotice" } },
    },
    required: ["state", "value"],
    description: "What one value is under a reading, as it is sent.",
  },
  Reading: {
    type: "object",
    properties: {
      kind: { $ref: "#/components/schemas/DateKind" },
      encoding: { $ref: "#/components/schemas/DateEncoding" },
      patterns: {
        type: "array",
        items: { type: "string" },
        description:
          "For text: UTS #35 patterns or  {@link  NAMED_PATTERNS } , tried in order; none means ISO 8601.",
      },
      locales: {
        type: "array",
        items: { type: "string" },
        description: "The languages of month and day names; none means English.",
      },
      zone: {
        type: "string",
        description:
          "The zone in which wall-clock times become instants, or instants days; none means UTC.",
      },
      blanks: {
        type: "array",
        items: { type: "string" },
        description: 'Spellings of "no date", compared without outer white space and letter case.',
      },
      sentinels: {
        type: "array",
        items: { type: "string" },
        description:
          'Dates that stand for "no date", in ISO 8601; each covers the whole of the time it names.',
      },
      twoDigitYearFrom: {
        type: "number",
        description: "The first of the hundred years that two digits can mean, 1 to 9900.",
      },
      exact: {
        type: "boolean",
        description:
          "Whether only texts that are spelled just as the pattern writes them are dates, and only blanks as they are listed: then a database that knows nothing of patterns can tell them too.",
      },
    },
    required: ["kind", "encoding"],
    description: "How the stored values of a column are understood as dates.",
  },
  ReadingCandidate: {
    type: "object",
    properties: {
      reading: { $ref: "#/components/schemas/Reading" },
      fits: { type: "number" },
      misses: { type: "number", description: "Neither dates under this reading nor blank." },
      examples: {
        type: "array",
        items: { type: "string" },
        description: "Some of the values that it does not fit.",
      },
      earliest: { type: "string", description: "In the standard form of the reading's kind." },
      latest: { type: "string" },
    },
    required: ["reading", "fits", "misses", "examples", "earliest", "latest"],
    description:
      "A reading that a column could have, with the evidence for it; counts are of cells.",
  },
  ReadingRival: {
    type: "object",
    properties: {
      reading: { $ref: "#/components/schemas/Reading" },
      onlyBest: {
        type: "number",
        description: "Cells that only the best candidate fits, and only this rival.",
      },
      onlyRival: { type: "number" },
      wouldChange: {
        type: "number",
        description: "Cells that both fit, and that would be other dates under the rival.",
      },
    },
    required: ["reading", "onlyBest", "onlyRival", "wouldChange"],
    description:
      "How the best candidate stands to another one that fits much of the column as well.",
  },
  Recognition: {
    type: "object",
    properties: {
      cells: { type: "number" },
      distinct: { type: "number" },
      blank: { type: "number" },
      verdict: {
        type: "string",
        enum: ["settled", "ambiguous", "mixed", "numbers", "none"],
        description:
          "`settled`: one reading, and nothing speaks for another; `ambiguous`: another fits as well and gives other dates; `mixed`: two layouts, each with values that only it fits; `numbers`: bare numbers, which are dates only where a person or the file says so; `none`: the column holds no dates.",
      },
      candidates: {
        type: "array",
        items: { $ref: "#/components/schemas/ReadingCandidate" },
        description: "The likeliest first.",
      },
      rivals: { type: "array", items: { $ref: "#/components/schemas/ReadingRival" } },
      suspects: {
        type: "array",
        items: {
          type: "object",
          properties: { date: { type: "string" }, count: { type: "number" } },
          required: ["date", "count"],
        },
        description: 'Dates that often stand for "no date", with the number of their cells.',
      },
      evidence: { type: "string", description: "The evidence in a sentence." },
    },
    required: [
      "cells",
      "distinct",
      "blank",
      "verdict",
      "candidates",
      "rivals",
      "suspects",
      "evidence",
    ],
    description: "What a column of values most likely is.",
  },
  RecordAnswer: {
    type: "object",
    properties: { id: { type: ["string", "number"] } },
    required: ["id"],
    description: "A record as it is sent: its id, and its columns by name.",
  },
  RecordInspection: {
    type: "object",
    properties: {
      id: { type: ["string", "number"] },
      cells: { type: "array", items: { $ref: "#/components/schemas/InspectedCell" } },
    },
    required: ["id", "cells"],
    description: "One record of a source, cell by cell: as it came, and as it is read.",
  },
  RecordSample: {
    type: "object",
    properties: {
      records: { type: "number" },
      of: {
        type: ["number", "null"],
        description: "All that there are; null where they could not be counted in time.",
      },
      drawn: {
        type: "string",
        enum: ["evenly", "first"],
        description: "Evenly from all of them, or the first that the database gave.",
      },
    },
    required: ["records", "of", "drawn"],
    description: "Some of the records of a source, of which all that is said of a column is.",
  },
  RecordValue: {
    type: ["string", "number", "boolean", "null"],
    description: "A value of a record, as it is sent.",
  },
  RecordVerdict: {
    type: "object",
    properties: {
      id: { type: ["string", "number"] },
      isIn: { type: "boolean", description: "Whether it satisfies all of them." },
      conditions: {
        type: "array",
        items: {
          type: "object",
          properties: {
            condition: { type: "string" },
            isMet: { type: "boolean" },
            values: {
              type: "object",
              additionalProperties: { $ref: "#/components/schemas/RecordValue" },
              description:
                "What the record has in the columns that are compared; texts that cannot be read as they came.",
            },
          },
          required: ["condition", "isMet", "values"],
        },
      },
    },
    required: ["id", "isIn", "conditions"],
    description: "One record against the conditions of a request.",
  },
  RecordsAnswer: {
    type: "object",
    properties: {
      records: { type: "array", items: { $ref: "#/components/schemas/RecordAnswer" } },
      meta: {
        type: "object",
        properties: {
          readAt: { type: "string" },
          total: { type: ["number", "null"] },
          totalIs: { $ref: "#/components/schemas/TotalIs" },
          sentence: { type: "string" },
          windows: {
            type: "array",
            items: { $ref: "#/components/schemas/WindowView" },
            description:
              "The windows of the conditions on dates, in order: the same however they were sent.",
          },
          notices: { type: "array", items: { $ref: "#/components/schemas/RenderedNotice" } },
          defaults: {
            type: "object",
            additionalProperties: { type: "array", items: { type: "string" } },
            description: "The defaults that took effect because nothing was given, by parameter.",
          },
          values: {
            type: "object",
            additionalProperties: { type: "array", items: { type: "string" } },
            description: "What was applied of each parameter, by name, in its canonical spelling.",
          },
          unfiltered: {
            $ref: "#/components/schemas/TotalAnswer",
            description: "On request: how many there are without the caller's own conditions.",
          },
          extent: {
            type: "object",
            properties: { first: { type: ["string", "null"] }, last: { type: ["string", "null"] } },
            required: ["first", "last"],
            description: "On request: the first and the last of the main date in what is found.",
          },
          days: {
            type: "object",
            properties: {
              present: { type: ["number", "null"] },
              absent: { type: ["number", "null"] },
            },
            required: ["present", "absent"],
            description:
              "On request: the days of the window, else of the stretch from the first date to the last, that have a record and that have none; null where they are too many to tell.",
          },
          why: {
            $ref: "#/components/schemas/WhyAnswer",
            description: "On request, where there is no record at all: why.",
          },
          shown: {
            type: "object",
            additionalProperties: { type: "string" },
            description:
              "What parameters show whose default is the extent of the data; it is no condition.",
          },
          inside: {
            type: "object",
            properties: {
              records: { $ref: "#/components/schemas/TotalAnswer" },
              values: { $ref: "#/components/schemas/TotalAnswer" },
            },
            required: ["records", "values"],
            description:
              "Of a source with values inside: how many records it is, and how many lines of values.",
          },
          clauses: {
            type: "array",
            items: { $ref: "#/components/schemas/Clause" },
            description: "On request: what is asked for, part by part.",
          },
          display: {
            type: "object",
            additionalProperties: { type: "object", additionalProperties: { type: "string" } },
            description:
              "On request: how values are shown that have a declared format, by record id and column.",
          },
          unreadable: {
            type: "object",
            additionalProperties: { type: "object", additionalProperties: { type: "string" } },
            description:
              "The texts of cells on this page that could not be read, by record id and column.",
          },
        },
        required: ["notices", "readAt", "sentence", "total", "totalIs", "unreadable", "windows"],
      },
      links: {
        type: "object",
        properties: {
          first: { type: "string" },
          next: { type: "string" },
          previous: { type: "string" },
        },
        required: ["first"],
      },
    },
    required: ["records", "meta", "links"],
    description: "A page of records with the addresses of the pages beside it, as it is sent.",
  },
  RecordsComparison: {
    type: "object",
    properties: {
      before: {
        type: "object",
        properties: {
          sentence: { type: "string" },
          total: { type: ["number", "null"] },
          totalIs: { $ref: "#/components/schemas/TotalIs" },
        },
        required: ["sentence", "total", "totalIs"],
      },
      after: {
        type: "object",
        properties: {
          sentence: { type: "string" },
          total: { type: ["number", "null"] },
          totalIs: { $ref: "#/components/schemas/TotalIs" },
        },
        required: ["sentence", "total", "totalIs"],
      },
      left: {
        $ref: "#/components/schemas/ComparedAnswer",
        description: "What the second does not keep any more.",
      },
      came: {
        $ref: "#/components/schemas/ComparedAnswer",
        description: "What only the second keeps.",
      },
    },
    required: ["before", "after", "left", "came"],
    description: "Two requests to one listing side by side.",
  },
  RecurringText: {
    type: "object",
    properties: {
      start: { type: ["string", "null"] },
      end: { type: ["string", "null"] },
      startLocal: { type: ["string", "null"] },
      endLocal: { type: ["string", "null"] },
      parts: { type: "array", items: { type: "string" } },
    },
    required: ["end", "endLocal", "parts", "start", "startLocal"],
    description: "Parts that recur within an interval, as they are sent.",
  },
  RefusedRow: {
    type: "object",
    properties: {
      line: { type: "number" },
      reason: { type: "string" },
      cells: { type: "array", items: { type: ["string", "null"] } },
    },
    required: ["line", "reason", "cells"],
    description: "A row that could not be taken at all.",
  },
  RelationDeclaration: {
    type: "object",
    properties: {
      source: { type: "string", description: "The other source, which has a key." },
      by: { type: "string", description: "The column here that has the other record's key." },
      columns: {
        type: "array",
        items: { type: "string" },
        description: "The other source's columns that can be shown, as `relation.column`.",
      },
    },
    required: ["source", "by", "columns"],
    description:
      "A to-one relation: a column of each record has the key of one record of another source.",
  },
  RenderedFault: {
    type: "object",
    properties: {
      parameter: { type: "string" },
      path: { type: "string" },
      column: { type: "string" },
      value: { type: "string" },
      code: { $ref: "#/components/schemas/FaultCode" },
      message: { type: "string" },
      accepted: { type: "string" },
      nearest: { type: "string" },
    },
    required: ["code", "message"],
    description:
      "A fault as it is sent: one entry of a problem document's `faults` (RFC 9457, section 3.2).",
  },
  RenderedNotice: {
    type: "object",
    properties: { code: { $ref: "#/components/schemas/NoticeCode" }, message: { type: "string" } },
    required: ["code", "message"],
    description: "A notice as it is sent.",
  },
  RepairedCell: {
    type: "object",
    properties: {
      id: { type: ["string", "number"] },
      column: { type: "string" },
      value: { type: ["string", "null"] },
      before: { type: ["string", "null"] },
      state: { type: "string", enum: ["dated", "blank", "unreadable", "text"] },
      fault: { $ref: "#/components/schemas/RenderedFault" },
    },
    required: ["id", "column", "value", "before", "state"],
    description: "A cell that was given another text.",
  },
  ReversedPolicy: { type: "string", enum: ["swap", "refuse"] },
  Role: {
    type: "string",
    enum: ["owner", "maker", "reader"],
    description: "What a key allows, from most to least.",
  },
  SettlingPreview: {
    type: "object",
    properties: {
      columns: {
        type: "object",
        additionalProperties: { $ref: "#/components/schemas/ColumnPreview" },
      },
      breaks: {
        type: "array",
        items: {
          type: "object",
          properties: { listing: { type: "string" }, reason: { type: "string" } },
          required: ["listing", "reason"],
        },
        description: "The listings that would no longer be served, and why.",
      },
    },
    required: ["columns", "breaks"],
    description: "What columns would come to under other readings.",
  },
  ShownDates: {
    type: "object",
    properties: {
      count: { type: "number", description: "The cells that it shows as dates." },
      encoding: { $ref: "#/components/schemas/DateEncoding" },
      zoned: {
        type: "number",
        description:
          "Those of them that are stored with a zone, which the program that shows them leaves out.",
      },
    },
    required: ["count", "encoding"],
    description: "What a file says itself of cells that it shows as dates.",
  },
  SourceColumn: {
    anyOf: [
      {
        type: "object",
        properties: {
          name: { type: "string" },
          type: { type: "string", enum: ["text", "integer", "decimal", "boolean"] },
        },
        required: ["name", "type"],
      },
      {
        type: "object",
        properties: {
          name: { type: "string" },
          type: { type: "string", const: "date" },
          reading: { $ref: "#/components/schemas/Reading" },
        },
        required: ["name", "type", "reading"],
      },
    ],
    description: "A column of a source.",
  },
  SourceDescription: {
    type: "object",
    properties: {
      name: { type: "string" },
      key: {
        type: ["string", "null"],
        description: "The column whose value is a record's id, or null.",
      },
      attached: {
        anyOf: [
          {
            type: "object",
            properties: {
              database: { type: "string" },
              table: {
                type: "string",
                description: "With a date in braces it is a pattern for several.",
              },
              dateColumn: {
                type: "string",
                description: "Of a pattern: the column that has the dates of its tables.",
              },
              runningDay: {
                type: "boolean",
                description:
                  "Of a pattern: whether the table of the day that has not ended is read too.",
              },
            },
            required: ["database", "table"],
          },
          { type: "null" },
        ],
        description:
          "The table of an attached database that it is; null for one of the service's own.",
      },
      stacked: {
        anyOf: [
          {
            type: "object",
            properties: {
              of: { type: "array", items: { type: "string" } },
              column: {
                type: "string",
                description: "The column that says from which of them a record comes.",
              },
              differences: { type: "array", items: { type: "string" } },
            },
            required: ["of", "column", "differences"],
          },
          { type: "null" },
        ],
        description:
          "The sources that it is, and how their columns differ; null for one that is not several.",
      },
      inside: {
        anyOf: [{ $ref: "#/components/schemas/InsideSource" }, { type: "null" }],
        description: "The values inside a column of another that it is; null for one that is not.",
      },
      tables: {
        type: "object",
        properties: {
          count: { type: "number" },
          first: { type: ["string", "null"] },
          last: { type: ["string", "null"] },
          leftOut: {
            type: "array",
            items: {
              type: "object",
              properties: { table: { type: "string" }, reason: { type: "string" } },
              required: ["table", "reason"],
            },
          },
        },
        required: ["count", "first", "last", "leftOut"],
        description: "For a pattern of tables: those that are read, and those that are not.",
      },
      records: {
        type: ["number", "null"],
        description: "Null for an attached one, whose records come and go.",
      },
      loadedAt: { type: ["string", "null"], description: "Null until a file was taken." },
      load: {
        type: ["number", "null"],
        description: "The load that its records come from; null until a file was taken.",
      },
      before: {
        anyOf: [
          {
            type: "object",
            properties: { load: { type: ["number", "null"] }, records: { type: "number" } },
            required: ["load", "records"],
          },
          { type: "null" },
        ],
        description: "What can be restored, or null.",
      },
      watch: {
        anyOf: [{ $ref: "#/components/schemas/WatchedFile" }, { type: "null" }],
        description: "A file that the service takes again when it changes, or null.",
      },
      columns: { type: "array", items: { $ref: "#/components/schemas/SourceColumn" } },
    },
    required: [
      "name",
      "key",
      "attached",
      "stacked",
      "inside",
      "records",
      "loadedAt",
      "load",
      "before",
      "watch",
      "columns",
    ],
    description: "A source as it is told.",
  },
  SourceProfile: {
    type: "object",
    properties: {
      source: { type: "string" },
      records: { type: "number" },
      columns: { type: "array", items: { $ref: "#/components/schemas/ColumnProfile" } },
    },
    required: ["source", "records", "columns"],
    description: "A source, looked at column by column.",
  },
  SqlValue: {
    type: ["string", "number", "null"],
    description: "A value that may be bound to a prepared statement.",
  },
  Statement: {
    type: "object",
    properties: {
      text: { type: "string" },
      values: { type: "array", items: { $ref: "#/components/schemas/SqlValue" } },
    },
    required: ["text", "values"],
    description: "A finished statement: text with placeholders, and the values to bind, in order.",
  },
  SummaryAnswer: {
    type: "object",
    properties: {
      by: { type: "array", items: { type: "string" } },
      groups: { type: "array", items: { $ref: "#/components/schemas/SummaryGroup" } },
      totals: {
        type: "array",
        items: { type: "array", items: { $ref: "#/components/schemas/SummaryGroup" } },
        description:
          "For each of two dimensions the totals over the other; for one the groups are that already.",
      },
      grand: { $ref: "#/components/schemas/SummaryGroup" },
    },
    required: ["by", "groups", "totals", "grand"],
    description: "Records grouped, with totals that add up.",
  },
  SummaryGroup: {
    type: "object",
    properties: {
      of: {
        type: "array",
        items: { $ref: "#/components/schemas/RecordValue" },
        description:
          "A value or the beginning of a unit of time for each dimension; null for a blank.",
      },
      records: { type: "number" },
      measures: {
        type: "object",
        additionalProperties: { $ref: "#/components/schemas/RecordValue" },
      },
    },
    required: ["of", "records", "measures"],
    description: "Records of one group.",
  },
  TimeBucket: {
    type: "object",
    properties: {
      start: { type: "string", description: "`2024`, `2024-03` or `2024-03-05` (ISO 8601)." },
      count: { type: "number" },
    },
    required: ["start", "count"],
    description:
      "A stretch of time of a  {@link  DateQuality } 's timeline, and the cells that lie in it.",
  },
  TimelineAnswer: {
    type: "object",
    properties: {
      column: { type: "string" },
      unit: { $ref: "#/components/schemas/BucketUnit" },
      zone: { type: "string" },
      buckets: {
        type: "array",
        items: {
          type: "object",
          properties: {
            records: { type: "number" },
            start: { type: ["string", "null"] },
            end: { type: ["string", "null"] },
            startLocal: { type: ["string", "null"] },
            endLocal: { type: ["string", "null"] },
          },
          required: ["end", "endLocal", "records", "start", "startLocal"],
        },
      },
      empty: { type: "number", description: "Units without any record." },
      blank: { type: "number" },
      unreadable: { type: "number" },
      before: {
        anyOf: [
          {
            type: "object",
            properties: {
              records: { type: "number" },
              start: { type: ["string", "null"] },
              end: { type: ["string", "null"] },
              startLocal: { type: ["string", "null"] },
              endLocal: { type: ["string", "null"] },
            },
            required: ["end", "endLocal", "records", "start", "startLocal"],
          },
          { type: "null" },
        ],
        description:
          "The same number of records in the stretch before, where the window has two ends.",
      },
    },
    required: ["column", "unit", "zone", "buckets", "empty", "blank", "unreadable", "before"],
    description: "Records counted along time.",
  },
  TotalAnswer: {
    type: "object",
    properties: {
      total: { type: ["number", "null"] },
      totalIs: { $ref: "#/components/schemas/TotalIs" },
    },
    required: ["total", "totalIs"],
    description: "A count of records; `total` is null where `totalIs` is `notCounted`.",
  },
  TotalIs: {
    type: "string",
    enum: ["exact", "atLeast", "notCounted"],
    description: "How far a total can be trusted.",
  },
  TranslatedStatement: {
    type: "object",
    properties: {
      text: { type: "string" },
      values: { type: "array", items: { type: ["string", "number", "null"] } },
    },
    required: ["text", "values"],
    description:
      "A statement as it is sent: whole numbers beyond what JSON keeps exactly are texts of digits.",
  },
  Translation: {
    type: "object",
    properties: {
      database: { $ref: "#/components/schemas/Database" },
      sentence: { type: "string" },
      canonical: { type: "string", description: "The filter in CQL2, as it was understood." },
      contradictions: {
        type: "array",
        items: { type: "string" },
        description: "Why no record can satisfy it, where that can be seen.",
      },
      where: {
        $ref: "#/components/schemas/TranslatedStatement",
        description: "What stands after WHERE; the text is empty where every record is kept.",
      },
      page: {
        type: "array",
        items: { $ref: "#/components/schemas/TranslatedStatement" },
        description: "The first page: statements to be run one after the other until it is full.",
      },
      count: { $ref: "#/components/schemas/TranslatedStatement" },
      remarks: {
        type: "array",
        items: { type: "string" },
        description: "What the statements rely on, and what would make them faster.",
      },
    },
    required: [
      "database",
      "sentence",
      "canonical",
      "contradictions",
      "where",
      "page",
      "count",
      "remarks",
    ],
    description: "A filter as a database takes it.",
  },
  ValueComparison: {
    type: "string",
    enum: [
      "is",
      "isNot",
      "atLeast",
      "above",
      "atMost",
      "below",
      "within",
      "outside",
      "contains",
      "lacks",
      "begins",
      "ends",
      "among",
      "noneOf",
    ],
  },
  ValueExplained: {
    type: "object",
    properties: {
      parameters: {
        type: "array",
        items: {
          type: "object",
          properties: {
            parameter: { type: "string" },
            asked: {
              type: "array",
              items: { type: "string" },
              description: "The texts as they came under this name.",
            },
            values: { type: "array", items: { type: "string" }, description: "What took effect." },
          },
          required: ["parameter", "asked", "values"],
        },
      },
      sentence: { type: "string" },
    },
    required: ["parameters", "sentence"],
    description: "A condition on values, from what was sent to what is compared.",
  },
  ValueParameter: {
    type: "object",
    properties: {
      name: { type: "string" },
      blanks: {
        $ref: "#/components/schemas/BlankPolicy",
        description: "What a caller's `<name>.blank` is when it is not sent.",
      },
      label: { type: "string" },
      description: { type: "string" },
      example: { type: "string" },
      required: { type: "boolean", description: "Whether a request without it is refused." },
      default: {
        anyOf: [{ type: "string" }, { type: "array", items: { type: "string" } }],
        description:
          "What takes effect where nothing is given, written as a caller would; of dates `extent` is shown to people and is no condition.",
      },
      type: { $ref: "#/components/schemas/ValueParameterType" },
      comparison: { $ref: "#/components/schemas/ValueComparison" },
      column: { type: "string", description: "None for a search, which has several." },
      columns: {
        type: "array",
        items: { type: "string" },
        description: "The columns of texts that a search looks into.",
      },
      pair: {
        type: "string",
        description: "The two parameters that share a pair name are the two ends of one range.",
      },
      letterCase: {
        type: "string",
        enum: ["exact", "folded"],
        description:
          "Whether letter case counts: `folded` for texts and `exact` for choices unless told.",
      },
      values: {
        type: "array",
        items: { type: "string" },
        description: "The values that may be chosen; any unless told.",
      },
    },
    required: ["blanks", "comparison", "name", "type"],
    description: "An input of numbers, texts, choices, yes or no.",
  },
  ValueParameterType: {
    type: "string",
    enum: ["integer", "decimal", "range", "text", "search", "boolean", "oneOf", "several"],
  },
  WatchedFile: {
    type: "object",
    properties: {
      file: { type: "string" },
      mode: { $ref: "#/components/schemas/LoadMode" },
      every: { type: "number", description: "Seconds between two looks at it." },
      options: { type: "object", additionalProperties: { type: "string" } },
    },
    required: ["file", "mode", "every", "options"],
    description: "A file of the service's inbox that it takes by itself.",
  },
  WhyAnswer: {
    type: "object",
    properties: {
      sentence: { type: "string", description: "What was searched." },
      reasons: {
        type: "array",
        items: { type: "string" },
        description: "Why there is no record; nothing where there is one.",
      },
      narrowing: { $ref: "#/components/schemas/Narrowing" },
      neighbours: {
        type: "array",
        items: { $ref: "#/components/schemas/Neighbours" },
        description: "For each date condition the dates nearest to its edges.",
      },
      record: {
        $ref: "#/components/schemas/RecordVerdict",
        description: "The record that was asked for, against each condition.",
      },
    },
    required: ["sentence", "reasons", "narrowing", "neighbours"],
    description:
      "Why a request finds no records, and why one record is in or out: of what its caller may see alone.",
  },
  WindowAnswer: {
    type: "object",
    properties: {
      window: { type: "string" },
      canonical: { type: "string" },
      sentence: { type: "string" },
      zone: { type: "string" },
      asOf: { type: "string" },
      intervals: { type: "array", items: { $ref: "#/components/schemas/IntervalText" } },
      recurring: {
        type: "array",
        items: {
          type: "object",
          properties: {
            parts: { type: "array", items: { type: "string" } },
            start: { type: ["string", "null"] },
            end: { type: ["string", "null"] },
            startLocal: { type: ["string", "null"] },
            endLocal: { type: ["string", "null"] },
          },
          required: ["end", "endLocal", "parts", "start", "startLocal"],
        },
        description: "Parts that recur without end, each in its stretch.",
      },
      truncated: { type: "boolean" },
      nextChange: {
        type: ["string", "null"],
        description: "Null for never; the instant of asking where it moves all the time.",
      },
      notices: { type: "array", items: { $ref: "#/components/schemas/RenderedNotice" } },
    },
    required: [
      "window",
      "canonical",
      "sentence",
      "zone",
      "asOf",
      "intervals",
      "nextChange",
      "notices",
    ],
    description: "What a window comes to, as it is sent.",
  },
  WindowView: {
    type: "object",
    properties: {
      start: { type: ["string", "null"] },
      end: { type: ["string", "null"] },
      startLocal: { type: ["string", "null"] },
      endLocal: { type: ["string", "null"] },
      column: { type: "string" },
      canonical: {
        type: "string",
        description: "The window in its notation, which goes on moving where it was written to.",
      },
      side: {
        type: "string",
        enum: ["inside", "outside"],
        description: "Which side of it is requested.",
      },
      zone: {
        type: "string",
        description: "The IANA name of the zone in which its days begin and end.",
      },
      blanks: { $ref: "#/components/schemas/BlankPolicy" },
      intervals: {
        type: "array",
        items: { $ref: "#/components/schemas/IntervalText" },
        description:
          "The intervals, where there are more than one or none; `start` and `end` are then those of all.",
      },
      recurring: {
        type: "array",
        items: { $ref: "#/components/schemas/RecurringText" },
        description: "Parts that recur in an interval.",
      },
    },
    required: [
      "blanks",
      "canonical",
      "column",
      "end",
      "endLocal",
      "side",
      "start",
      "startLocal",
      "zone",
    ],
    description: "The window of a condition on dates, as it is sent.",
  },
};
