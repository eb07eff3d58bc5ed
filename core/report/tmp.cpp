int ash_report_placeholder; 
