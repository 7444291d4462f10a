# Sources that are compiled together. Made by scripts/unity-batches.
set_source_files_properties(
  src/core/base/base64.cc
  src/core/base/clock.cc
  src/core/base/error.cc
  src/core/base/files.cc
  src/core/base/markup.cc
  src/core/base/pattern.cc
  src/core/base/plane_map.cc
  src/core/base/printed_order.cc
  src/core/base/reading_version.cc
  src/core/base/roman.cc
  src/core/base/source.cc
  src/core/base/unicode.cc
  PROPERTIES UNITY_GROUP burnisher_base_1)
set_source_files_properties(
  src/core/base/base_test.cc
  src/core/base/plane_map_test.cc
  src/core/base/printed_order_test.cc
  PROPERTIES UNITY_GROUP burnisher_base_test_1)
set_source_files_properties(
  src/core/clean/align.cc
  src/core/clean/background.cc
  src/core/clean/binarise.cc
  src/core/clean/blank.cc
  src/core/clean/borders.cc
  src/core/clean/clean.cc
  src/core/clean/despeckle.cc
  src/core/clean/faint_ink.cc
  src/core/clean/flat_sheet.cc
  src/core/clean/painting.cc
  src/core/clean/settings_text.cc
  src/core/clean/tone.cc
  PROPERTIES UNITY_GROUP burnisher_clean_1)
set_source_files_properties(
  src/core/clean/dewarp.cc
  src/core/clean/edges.cc
  src/core/clean/ground.cc
  src/core/clean/letter_rows.cc
  src/core/clean/measure.cc
  src/core/clean/mend.cc
  src/core/clean/print_ink.cc
  src/core/clean/show_through.cc
  src/core/clean/text_rows.cc
  PROPERTIES UNITY_GROUP burnisher_clean_2)
set_source_files_properties(
  src/core/clean/ink_levels.cc
  src/core/clean/inverse.cc
  src/core/clean/rules.cc
  src/core/clean/skew.cc
  PROPERTIES UNITY_GROUP burnisher_clean_3)
set_source_files_properties(
  src/core/clean/other_side.cc
  src/core/clean/sheet_outline.cc
  src/core/clean/spread.cc
  PROPERTIES UNITY_GROUP burnisher_clean_4)
set_source_files_properties(
  src/core/clean/clean_cases_test.cc
  src/core/clean/clean_test.cc
  src/core/clean/figures_test.cc
  src/core/clean/ground_test.cc
  src/core/clean/letter_rows_test.cc
  src/core/clean/other_side_test.cc
  src/core/clean/settings_text_test.cc
  src/core/clean/sheets_test.cc
  PROPERTIES UNITY_GROUP burnisher_clean_test_1)
set_source_files_properties(
  src/core/clean/perspective_test.cc
  src/core/clean/repairs_test.cc
  PROPERTIES UNITY_GROUP burnisher_clean_test_2)
set_source_files_properties(
  src/core/compose/camera.cc
  src/core/compose/crop.cc
  src/core/compose/families.cc
  src/core/compose/family_forms.cc
  src/core/compose/family_listings.cc
  src/core/compose/family_office.cc
  src/core/compose/family_press.cc
  src/core/compose/family_tables.cc
  src/core/compose/sheet_marks.cc
  src/core/compose/typefaces.cc
  src/core/compose/typeset.cc
  PROPERTIES UNITY_GROUP burnisher_compose_1)
set_source_files_properties(
  src/core/compose/degrade.cc
  src/core/compose/family_prose.cc
  src/core/compose/family_screen.cc
  src/core/compose/page_maker.cc
  src/core/compose/sheet.cc
  PROPERTIES UNITY_GROUP burnisher_compose_2)
set_source_files_properties(
  src/core/compose/crop_test.cc
  src/core/compose/sheet_test.cc
  PROPERTIES UNITY_GROUP burnisher_compose_test_1)
set_source_files_properties(
  src/core/correct/changes.cc
  src/core/correct/confusion_model.cc
  src/core/correct/decisions.cc
  src/core/correct/document_words.cc
  src/core/correct/forms.cc
  src/core/correct/lexicon.cc
  src/core/correct/surroundings.cc
  src/core/correct/word_analysis.cc
  src/core/correct/word_change.cc
  PROPERTIES UNITY_GROUP burnisher_correct_1)
set_source_files_properties(
  src/core/correct/correct.cc
  src/core/correct/replace.cc
  PROPERTIES UNITY_GROUP burnisher_correct_2)
set_source_files_properties(
  src/core/correct/correct_test.cc
  src/core/correct/decisions_test.cc
  src/core/correct/forms_test.cc
  src/core/correct/lexicon_test.cc
  src/core/correct/surroundings_test.cc
  PROPERTIES UNITY_GROUP burnisher_correct_test_1)
set_source_files_properties(
  src/core/export/epub.cc
  src/core/export/flow.cc
  src/core/export/mets.cc
  src/core/export/odt.cc
  src/core/export/package.cc
  src/core/export/paragraphs.cc
  src/core/export/spreadsheet.cc
  src/core/export/word_list.cc
  PROPERTIES UNITY_GROUP burnisher_export_1)
set_source_files_properties(
  src/core/export/hocr.cc
  src/core/export/text.cc
  PROPERTIES UNITY_GROUP burnisher_export_2)
set_source_files_properties(
  src/core/export/epub_test.cc
  src/core/export/export_test.cc
  src/core/export/flow_test.cc
  src/core/export/mets_test.cc
  src/core/export/odt_test.cc
  src/core/export/paragraphs_test.cc
  src/core/export/spreadsheet_test.cc
  src/core/export/text_test.cc
  PROPERTIES UNITY_GROUP burnisher_export_test_1)
set_source_files_properties(
  src/core/find/database.cc
  src/core/find/expression.cc
  src/core/find/folding.cc
  src/core/find/gather.cc
  src/core/find/hit_view.cc
  src/core/find/page_words.cc
  src/core/find/search.cc
  src/core/find/term.cc
  PROPERTIES UNITY_GROUP burnisher_find_1)
set_source_files_properties(
  src/core/find/index.cc
  src/core/find/where.cc
  PROPERTIES UNITY_GROUP burnisher_find_2)
set_source_files_properties(
  src/core/find/find_test.cc
  src/core/find/gather_test.cc
  PROPERTIES UNITY_GROUP burnisher_find_test_1)
set_source_files_properties(
  src/core/intake/inputs.cc
  src/core/intake/own_coding.cc
  src/core/intake/pdf_drawing.cc
  src/core/intake/pdf_file.cc
  src/core/intake/pdf_programs.cc
  src/core/intake/pdf_text.cc
  PROPERTIES UNITY_GROUP burnisher_intake_1)
set_source_files_properties(
  src/core/intake/pdf_file_test.cc
  src/core/intake/scan_file_test.cc
  PROPERTIES UNITY_GROUP burnisher_intake_test_1)
set_source_files_properties(
  src/core/jbig2/bit_costs.cc
  src/core/jbig2/jbig2.cc
  src/core/jbig2/mq_encoder.cc
  src/core/jbig2/prototype.cc
  src/core/jbig2/regions.cc
  src/core/jbig2/shape_clusters.cc
  src/core/jbig2/shapes.cc
  PROPERTIES UNITY_GROUP burnisher_jbig2_1)
set_source_files_properties(
  src/core/job/digest.cc
  src/core/job/job_file.cc
  src/core/job/worker.cc
  PROPERTIES UNITY_GROUP burnisher_job_1)
set_source_files_properties(
  src/core/layout/blocks.cc
  src/core/layout/columns.cc
  src/core/layout/leaders.cc
  src/core/layout/letters.cc
  src/core/layout/map_regions.cc
  src/core/layout/maps_picture.cc
  src/core/layout/outlines.cc
  src/core/layout/page_maps.cc
  src/core/layout/page_model.cc
  src/core/layout/page_network.cc
  src/core/layout/painted_maps.cc
  src/core/layout/segment.cc
  src/core/layout/table_reach.cc
  PROPERTIES UNITY_GROUP burnisher_layout_1)
set_source_files_properties(
  src/core/layout/document.cc
  src/core/layout/initials.cc
  src/core/layout/level_rows.cc
  src/core/layout/stencil.cc
  src/core/layout/table_parts.cc
  src/core/layout/tick_boxes.cc
  src/core/layout/turned.cc
  PROPERTIES UNITY_GROUP burnisher_layout_2)
set_source_files_properties(
  src/core/layout/faint_text.cc
  src/core/layout/marks.cc
  src/core/layout/oversegmented_lines.cc
  PROPERTIES UNITY_GROUP burnisher_layout_3)
set_source_files_properties(
  src/core/layout/kinds.cc
  src/core/layout/pictures.cc
  src/core/layout/table_levels.cc
  PROPERTIES UNITY_GROUP burnisher_layout_4)
set_source_files_properties(
  src/core/layout/lines.cc
  src/core/layout/table_grid.cc
  src/core/layout/tables.cc
  PROPERTIES UNITY_GROUP burnisher_layout_5)
set_source_files_properties(
  src/core/layout/composed_pages_test.cc
  src/core/layout/faint_text_test.cc
  src/core/layout/layout_cases_test.cc
  src/core/layout/order_test.cc
  src/core/layout/oversegmented_lines_test.cc
  src/core/layout/unseen_lines_test.cc
  PROPERTIES UNITY_GROUP burnisher_layout_test_1)
set_source_files_properties(
  src/core/layout/document_test.cc
  src/core/layout/kinds_test.cc
  src/core/layout/layout_test.cc
  src/core/layout/page_network_test.cc
  src/core/layout/painted_tables_test.cc
  PROPERTIES UNITY_GROUP burnisher_layout_test_2)
set_source_files_properties(
  src/core/layout/marks_test.cc
  src/core/layout/seen_lines_test.cc
  PROPERTIES UNITY_GROUP burnisher_layout_test_3)
set_source_files_properties(
  src/core/layout/parts_test.cc
  src/core/layout/tables_test.cc
  PROPERTIES UNITY_GROUP burnisher_layout_test_4)
set_source_files_properties(
  src/core/neural/activations.cc
  src/core/neural/batch_norm.cc
  src/core/neural/conv_shape.cc
  src/core/neural/convolution.cc
  src/core/neural/tensor_file.cc
  PROPERTIES UNITY_GROUP burnisher_neural_1)
set_source_files_properties(
  src/core/neural/conv_shape_test.cc
  src/core/neural/tensor_file_test.cc
  PROPERTIES UNITY_GROUP burnisher_neural_test_1)
set_source_files_properties(
  src/core/page/as_stored.cc
  src/core/page/block_kind.cc
  src/core/page/fields.cc
  src/core/page/page.cc
  src/core/page/page_order.cc
  src/core/page/printed_number.cc
  PROPERTIES UNITY_GROUP burnisher_page_1)
set_source_files_properties(
  src/core/page/page_test.cc
  src/core/page/printed_number_test.cc
  src/core/page/table_test.cc
  PROPERTIES UNITY_GROUP burnisher_page_test_1)
set_source_files_properties(
  src/core/pagefile/alto.cc
  src/core/pagefile/alto_reader.cc
  src/core/pagefile/page_file.cc
  src/core/pagefile/scan_geometry.cc
  PROPERTIES UNITY_GROUP burnisher_pagefile_1)
set_source_files_properties(
  src/core/pagefile/custom.cc
  src/core/pagefile/page_xml.cc
  PROPERTIES UNITY_GROUP burnisher_pagefile_2)
set_source_files_properties(
  src/core/pagefile/alto_test.cc
  src/core/pagefile/custom_test.cc
  src/core/pagefile/hocr_test.cc
  src/core/pagefile/scan_geometry_test.cc
  PROPERTIES UNITY_GROUP burnisher_pagefile_test_1)
set_source_files_properties(
  src/core/pagefile/page_file_test.cc
  src/core/pagefile/page_xml_test.cc
  PROPERTIES UNITY_GROUP burnisher_pagefile_test_2)
set_source_files_properties(
  src/core/pdf/about.cc
  src/core/pdf/blank_font.cc
  src/core/pdf/check.cc
  src/core/pdf/font_objects.cc
  src/core/pdf/layers.cc
  src/core/pdf/navigation.cc
  src/core/pdf/original.cc
  src/core/pdf/pdf.cc
  src/core/pdf/spill_file.cc
  src/core/pdf/text_layer.cc
  src/core/pdf/word_extents.cc
  PROPERTIES UNITY_GROUP burnisher_pdf_1)
set_source_files_properties(
  src/core/pdf/highlights.cc
  src/core/pdf/navigation_objects.cc
  src/core/pdf/picture.cc
  PROPERTIES UNITY_GROUP burnisher_pdf_2)
set_source_files_properties(
  src/core/pdf/check_test.cc
  src/core/pdf/highlights_test.cc
  src/core/pdf/navigation_test.cc
  src/core/pdf/original_test.cc
  src/core/pdf/pdf_test.cc
  src/core/pdf/word_extents_test.cc
  PROPERTIES UNITY_GROUP burnisher_pdf_test_1)
set_source_files_properties(
  src/core/pdf/picture_test.cc
  src/core/pdf/text_layer_test.cc
  PROPERTIES UNITY_GROUP burnisher_pdf_test_2)
set_source_files_properties(
  src/core/raster/blur.cc
  src/core/raster/components.cc
  src/core/raster/convert.cc
  src/core/raster/image.cc
  src/core/raster/jpeg.cc
  src/core/raster/pnm.cc
  src/core/raster/text_scale.cc
  src/core/raster/turn.cc
  src/core/raster/warp.cc
  PROPERTIES UNITY_GROUP burnisher_raster_1)
set_source_files_properties(
  src/core/raster/codecs_test.cc
  src/core/raster/components_test.cc
  src/core/raster/turn_test.cc
  PROPERTIES UNITY_GROUP burnisher_raster_test_1)
set_source_files_properties(
  src/core/recognise/alphabet.cc
  src/core/recognise/arabic_letters.cc
  src/core/recognise/beam_search.cc
  src/core/recognise/bundle.cc
  src/core/recognise/cut_lines.cc
  src/core/recognise/decode.cc
  src/core/recognise/ideograph_language.cc
  src/core/recognise/item_marks.cc
  src/core/recognise/joined_lines.cc
  src/core/recognise/language_model.cc
  src/core/recognise/line_scripts.cc
  src/core/recognise/logical_words.cc
  src/core/recognise/network.cc
  src/core/recognise/noise.cc
  src/core/recognise/points.cc
  src/core/recognise/posteriors.cc
  src/core/recognise/quantise.cc
  src/core/recognise/scripts.cc
  src/core/recognise/show_through.cc
  src/core/recognise/square_lines.cc
  PROPERTIES UNITY_GROUP burnisher_recognise_1)
set_source_files_properties(
  src/core/recognise/character_prior.cc
  src/core/recognise/languages.cc
  src/core/recognise/look_alikes.cc
  src/core/recognise/model.cc
  src/core/recognise/numbered_fields.cc
  src/core/recognise/small_capitals.cc
  PROPERTIES UNITY_GROUP burnisher_recognise_2)
set_source_files_properties(
  src/core/recognise/foreign_words.cc
  src/core/recognise/ideographs.cc
  src/core/recognise/readings.cc
  src/core/recognise/recognise.cc
  src/core/recognise/words.cc
  PROPERTIES UNITY_GROUP burnisher_recognise_3)
set_source_files_properties(
  src/core/recognise/reader.cc
  src/core/recognise/rows_or_columns.cc
  src/core/recognise/strip.cc
  src/core/recognise/strip_leaders.cc
  PROPERTIES UNITY_GROUP burnisher_recognise_4)
set_source_files_properties(
  src/core/recognise/arabic_letters_test.cc
  src/core/recognise/bundle_test.cc
  src/core/recognise/character_prior_test.cc
  src/core/recognise/cut_lines_test.cc
  src/core/recognise/ideograph_language_test.cc
  src/core/recognise/joined_lines_test.cc
  src/core/recognise/network_test.cc
  src/core/recognise/points_test.cc
  src/core/recognise/posteriors_test.cc
  src/core/recognise/quantise_test.cc
  src/core/recognise/readings_test.cc
  src/core/recognise/recognise_test.cc
  src/core/recognise/small_capitals_test.cc
  src/core/recognise/strip_leaders_test.cc
  PROPERTIES UNITY_GROUP burnisher_recognise_test_1)
set_source_files_properties(
  src/core/recognise/foreign_words_test.cc
  src/core/recognise/item_marks_test.cc
  src/core/recognise/rows_or_columns_test.cc
  src/core/recognise/square_lines_test.cc
  PROPERTIES UNITY_GROUP burnisher_recognise_test_2)
set_source_files_properties(
  src/core/recognise/look_alikes_test.cc
  src/core/recognise/noise_test.cc
  src/core/recognise/numbered_fields_test.cc
  src/core/recognise/strip_margins_test.cc
  PROPERTIES UNITY_GROUP burnisher_recognise_test_3)
set_source_files_properties(
  src/core/report/chart.cc
  src/core/report/comparison.cc
  src/core/report/html.cc
  src/core/report/layout_page.cc
  src/core/report/layout_page_marks.cc
  src/core/report/layout_page_view.cc
  src/core/report/layout_sheet.cc
  src/core/report/proof_page.cc
  src/core/report/type_case_page.cc
  src/core/report/type_case_script.cc
  PROPERTIES UNITY_GROUP burnisher_report_1)
set_source_files_properties(
  src/core/report/delivery_report.cc
  src/core/report/proof_pdf.cc
  src/core/report/type_case_sheet.cc
  src/core/report/words_table.cc
  PROPERTIES UNITY_GROUP burnisher_report_2)
set_source_files_properties(
  src/core/report/find_sheet.cc
  src/core/report/proof_sheet.cc
  PROPERTIES UNITY_GROUP burnisher_report_3)
set_source_files_properties(
  src/core/report/delivery_report_test.cc
  src/core/report/find_sheet_test.cc
  src/core/report/layout_sheet_test.cc
  PROPERTIES UNITY_GROUP burnisher_report_test_1)
set_source_files_properties(
  src/core/report/report_test.cc
  src/core/report/type_case_sheet_test.cc
  PROPERTIES UNITY_GROUP burnisher_report_test_2)
set_source_files_properties(
  src/core/run/amend_layout.cc
  src/core/run/checks.cc
  src/core/run/delivery.cc
  src/core/run/document_set.cc
  src/core/run/documents.cc
  src/core/run/hold.cc
  src/core/run/job_names.cc
  src/core/run/kept_places.cc
  src/core/run/left_behind.cc
  src/core/run/lift_rules.cc
  src/core/run/page_codes.cc
  src/core/run/person_pages.cc
  src/core/run/read_scan.cc
  src/core/run/run_report.cc
  src/core/run/scan_list.cc
  src/core/run/set_page.cc
  src/core/run/split.cc
  src/core/run/stages.cc
  src/core/run/survey.cc
  src/core/run/unread.cc
  PROPERTIES UNITY_GROUP burnisher_run_1)
set_source_files_properties(
  src/core/run/document_names.cc
  src/core/run/leaves.cc
  src/core/run/page_pictures.cc
  PROPERTIES UNITY_GROUP burnisher_run_2)
set_source_files_properties(
  src/core/run/job_documents.cc
  src/core/run/sources.cc
  src/core/run/steps.cc
  PROPERTIES UNITY_GROUP burnisher_run_3)
set_source_files_properties(
  src/core/run/document_names_test.cc
  src/core/run/documents_test.cc
  src/core/run/kept_places_test.cc
  src/core/run/leaves_test.cc
  src/core/run/lift_rules_test.cc
  src/core/run/page_codes_test.cc
  src/core/run/pixel_budget_test.cc
  src/core/run/run_test.cc
  src/core/run/set_page_test.cc
  src/core/run/unread_test.cc
  PROPERTIES UNITY_GROUP burnisher_run_test_1)
set_source_files_properties(
  src/core/run/person_pages_test.cc
  src/core/run/split_test.cc
  src/core/run/steps_test.cc
  PROPERTIES UNITY_GROUP burnisher_run_test_2)
set_source_files_properties(
  src/core/score/certainty.cc
  src/core/score/compare.cc
  src/core/score/document.cc
  src/core/score/faults.cc
  src/core/score/ink_score.cc
  PROPERTIES UNITY_GROUP burnisher_score_1)
set_source_files_properties(
  src/core/score/certainty_test.cc
  src/core/score/compare_test.cc
  src/core/score/document_test.cc
  src/core/score/faults_test.cc
  src/core/score/ink_score_test.cc
  src/core/score/layout_score_test.cc
  PROPERTIES UNITY_GROUP burnisher_score_test_1)
set_source_files_properties(
  src/core/teach/case_examples.cc
  src/core/teach/lesson.cc
  src/core/teach/namings.cc
  PROPERTIES UNITY_GROUP burnisher_teach_1)
set_source_files_properties(
  src/core/teach/example_pages.cc
  src/core/teach/glyph_cuts.cc
  PROPERTIES UNITY_GROUP burnisher_teach_2)
set_source_files_properties(
  src/core/teach/piles.cc
  src/core/teach/type_case.cc
  PROPERTIES UNITY_GROUP burnisher_teach_3)
set_source_files_properties(
  src/core/train/confusion_trainer.cc
  src/core/train/ctc.cc
  src/core/train/examples.cc
  src/core/train/learner.cc
  src/core/train/network_state.cc
  src/core/train/optimiser.cc
  src/core/train/page_targets.cc
  src/core/train/page_texts.cc
  src/core/train/rarest.cc
  src/core/train/sampled_head.cc
  src/core/train/trainable.cc
  src/core/train/trainer.cc
  src/core/train/transcriptions.cc
  src/core/train/validation.cc
  PROPERTIES UNITY_GROUP burnisher_train_1)
set_source_files_properties(
  src/core/train/language_trainer.cc
  src/core/train/line_maker.cc
  src/core/train/page_trainer.cc
  src/core/train/rounds.cc
  src/core/train/run_files.cc
  src/core/train/run_loop.cc
  src/core/train/text_patterns.cc
  PROPERTIES UNITY_GROUP burnisher_train_2)
set_source_files_properties(
  src/core/train/gradients_test.cc
  src/core/train/language_trainer_test.cc
  src/core/train/other_scripts_test.cc
  src/core/train/transcriptions_test.cc
  PROPERTIES UNITY_GROUP burnisher_train_test_1)
set_source_files_properties(
  src/core/train/page_trainer_test.cc
  src/core/train/squares_test.cc
  PROPERTIES UNITY_GROUP burnisher_train_test_2)
set_source_files_properties(
  src/core/train/text_patterns_test.cc
  src/core/train/train_test.cc
  PROPERTIES UNITY_GROUP burnisher_train_test_3)
set_source_files_properties(
  src/core/type/lift.cc
  src/core/type/match.cc
  src/core/type/subset.cc
  src/core/type/typefaces.cc
  PROPERTIES UNITY_GROUP burnisher_type_1)
set_source_files_properties(
  src/service/access.cc
  src/service/claims.cc
  src/service/desk.cc
  src/service/http_text.cc
  src/service/openapi.cc
  src/service/problem.cc
  src/service/request_settings.cc
  src/service/service_page.cc
  src/service/waiting_page.cc
  PROPERTIES UNITY_GROUP burnisher_service_1)
set_source_files_properties(
  src/service/document_routes.cc
  src/service/service.cc
  src/service/small_reads.cc
  src/service/waiting_routes.cc
  PROPERTIES UNITY_GROUP burnisher_service_2)
set_source_files_properties(
  src/service/flow_test.cc
  src/service/http_text_test.cc
  PROPERTIES UNITY_GROUP burnisher_service_test_1)
set_source_files_properties(
  src/cli/command_amend.cc
  src/cli/command_check.cc
  src/cli/command_correct.cc
  src/cli/command_index.cc
  src/cli/command_line.cc
  src/cli/command_models.cc
  src/cli/command_recipes.cc
  src/cli/command_serve.cc
  src/cli/command_sheet.cc
  src/cli/command_stencil.cc
  src/cli/command_survey.cc
  src/cli/command_work.cc
  src/cli/console.cc
  src/cli/delivery_options.cc
  src/cli/fields.cc
  src/cli/find_listing.cc
  src/cli/layout_options.cc
  src/cli/main.cc
  src/cli/remedies.cc
  src/cli/settings_file.cc
  PROPERTIES UNITY_GROUP burnisher_1)
set_source_files_properties(
  src/cli/command_clean.cc
  src/cli/command_lexicon.cc
  src/cli/command_run.cc
  src/cli/command_segment.cc
  PROPERTIES UNITY_GROUP burnisher_2)
set_source_files_properties(
  src/cli/command_export.cc
  src/cli/command_status.cc
  src/cli/run_options.cc
  PROPERTIES UNITY_GROUP burnisher_3)
