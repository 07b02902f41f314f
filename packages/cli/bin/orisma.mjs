#!/usr/bin/env node
import { main } from "../dist/orisma.js";

process.exitCode = await main(process.argv.slice(2));
