// The proof sheet on paper: suspects one under the other, each with its picture, its line, its
// suggestions and room for a pen.
#pragma once

#include "report/proof_sheet.h"

namespace burnisher::report {

// Writes a PDF of A4 pages. Throws OutputError.
void write_proof_pdf(const ProofSheet& sheet, const std::string& path, bool overwrite);

}  // namespace burnisher::report
