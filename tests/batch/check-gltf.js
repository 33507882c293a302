// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// node check-gltf.js VALIDATOR FILE: prints what the Khronos validator finds, as JSON.
const fs = require('fs'), path = require('path');
const validator = require(path.resolve(process.argv[2]));
const file = process.argv[3];
validator.validateBytes(new Uint8Array(fs.readFileSync(file)), {
    uri: path.basename(file),
    externalResourceFunction: (uri) =>
        Promise.resolve(new Uint8Array(fs.readFileSync(path.join(path.dirname(file), decodeURIComponent(uri))))),
}).then((report) => console.log(JSON.stringify(report)), (error) => { console.error(String(error)); process.exit(1); });
