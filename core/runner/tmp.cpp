int ash_runner_placeholder; 
